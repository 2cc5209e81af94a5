import type { MailFacts } from "./kind"

/** What somebody asked in the room of a webinar, answered afterwards. */
export const answer: MailFacts = { label: "Answer to a question", asked: true, about: "person" }
