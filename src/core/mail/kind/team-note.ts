import type { MailFacts } from "./kind"

/** Tells a member of the team that somebody has come to a place of a sequence. */
export const teamNote: MailFacts = { label: "Word to the team", asked: true, about: "account" }
