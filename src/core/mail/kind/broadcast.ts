import type { MailFacts } from "./kind"

/** A letter to everybody of a segment. */
export const broadcast: MailFacts = { label: "Broadcast", asked: false, about: "person" }
