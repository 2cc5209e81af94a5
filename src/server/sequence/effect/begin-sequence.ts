import { againOf, sequenceBegun } from "@/core/funnel/effect/list"
import { beginSequence } from "../begin"
import type { Perform } from "./perform"

export const beginASequence: Perform = async (tx, e, about) => {
  const sequence = sequenceBegun(e)
  if (sequence !== null)
    await beginSequence(tx, {
      person: about.person,
      sequence,
      funnel: about.funnel,
      at: about.at,
      again: againOf(e),
    })
}
