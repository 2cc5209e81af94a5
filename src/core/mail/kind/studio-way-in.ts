import type { MailFacts } from "./kind"

/** Lets somebody into the studio who has lost the password, once. */
export const studioWayIn: MailFacts = { label: "Sign-in link to the studio", asked: true, about: "account" }
