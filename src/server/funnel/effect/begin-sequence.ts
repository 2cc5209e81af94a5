import { sequenceBegun } from "@/core/funnel/effect/list"
import { beginSequence } from "../../mail/enrol"
import type { Perform } from "./perform"

export const beginASequence: Perform = async (tx, e, about) => {
  const id = sequenceBegun(e)
  const { release } = about
  const sequence = release?.funnel.sequences.find((q) => q.id === id)
  if (sequence && release)
    await beginSequence(tx, {
      person: about.person,
      sequence,
      release: release.id,
      funnel: release.funnel.id,
      at: about.at,
    })
}
