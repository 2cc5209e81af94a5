import type { MailFacts } from "./kind"

/** Tells the teacher what the week before brought. */
export const report: MailFacts = { label: "Report of the week", asked: true, about: "account" }
