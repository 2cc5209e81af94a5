import type { MailFacts } from "./kind"

/** Money has gone back. */
export const refund: MailFacts = { label: "Refund", asked: true, about: "refund" }
