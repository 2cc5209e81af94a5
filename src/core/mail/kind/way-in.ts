import type { MailFacts } from "./kind"

/** Lets a learner in, once. */
export const wayIn: MailFacts = { label: "Sign-in link", asked: true, letsIn: true, about: "person" }
