import { endSequence } from "../../mail/enrol"
import type { Perform } from "./perform"

export const endASequence: Perform = (tx, e, about) =>
  endSequence(tx, { person: about.person, sequence: e.subject, why: "ended", at: about.at })
