// Who is told what happens: the one list in which a lower domain reaches a higher one.
import type { Listener } from "./around"

export const listeners: readonly Listener[] = []
