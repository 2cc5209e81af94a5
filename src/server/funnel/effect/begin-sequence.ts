import { beginSequence } from "../../mail/enrol"
import type { Perform } from "./perform"

export const beginASequence: Perform = async (tx, e, about) => {
  const sequence = about.release?.funnel.sequences.find((q) => q.id === e.subject)
  if (sequence && about.release)
    await beginSequence(tx, {
      person: about.person,
      sequence,
      release: about.release.id,
      funnel: about.release.funnel.id,
      at: about.at,
    })
}
