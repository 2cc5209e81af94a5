import { aboutOf } from "@/core/sequence/effect/list"
import { endSequence } from "../../mail/end"
import { forEach } from "./perform"

export const endASequence = forEach((tx, e, person, { at }) =>
  endSequence(tx, { person, sequence: aboutOf(e), why: "ended", at }),
)
