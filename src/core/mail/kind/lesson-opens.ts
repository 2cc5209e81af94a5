import type { MailFacts } from "./kind"

/** The next part of a course has opened. Whoever has left the e-mails isn't written to. */
export const lessonOpens: MailFacts = { label: "The next lesson is open", asked: false, about: "person" }
