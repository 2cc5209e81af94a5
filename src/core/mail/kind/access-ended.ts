import type { MailFacts } from "./kind"

/** The card was refused for good: the plan has ended. */
export const accessEnded: MailFacts = { label: "A plan has ended", asked: true, about: "plan" }
