import { againOf, sequenceBegun } from "@/core/sequence/effect/list"
import { beginSequence } from "../begin"
import type { Perform } from "./perform"

export const beginASequence: Perform = async (tx, e, people, { funnel, at }) => {
  const sequence = sequenceBegun(e)
  if (sequence !== null) await beginSequence(tx, { people, sequence, funnel, at, again: againOf(e) })
}
