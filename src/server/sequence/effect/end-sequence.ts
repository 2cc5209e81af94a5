import { aboutOf } from "@/core/sequence/effect/list"
import { endSequence } from "../../mail/end"
import type { Perform } from "./perform"

export const endASequence: Perform = (tx, e, about) =>
  endSequence(tx, { person: about.person, sequence: aboutOf(e), why: "ended", at: about.at })
