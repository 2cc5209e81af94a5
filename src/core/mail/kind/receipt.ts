import type { MailFacts } from "./kind"

/** What was bought, what was paid, and a sign-in link. */
export const receipt: MailFacts = { label: "Receipt", asked: true, letsIn: true, about: "order" }
