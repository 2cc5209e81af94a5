import type { MailFacts } from "./kind"

/** An e-mail of a sequence. */
export const sequence: MailFacts = { label: "E-mail of a sequence", asked: false, about: "sequence" }
