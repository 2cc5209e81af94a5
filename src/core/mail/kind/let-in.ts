import type { MailFacts } from "./kind"

/** Somebody was let into a course by the school, with the way there. */
export const letIn: MailFacts = { label: "Let into a course", asked: true, letsIn: true, about: "person" }
