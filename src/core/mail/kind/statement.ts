import type { MailFacts } from "./kind"

/** An affiliate was paid: what for, as a credit note. */
export const statement: MailFacts = { label: "Statement of commission", asked: true, about: "person" }
