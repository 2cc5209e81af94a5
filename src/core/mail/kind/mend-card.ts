import type { MailFacts } from "./kind"

/** The card was refused, and when it is tried again. */
export const mendCard: MailFacts = { label: "The card was refused", asked: true, about: "plan" }
