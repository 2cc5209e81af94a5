import type { MailFacts } from "./kind"

/** Tells the teacher what learners have written below lessons. */
export const newComments: MailFacts = { label: "New comments", asked: true, about: "account" }
