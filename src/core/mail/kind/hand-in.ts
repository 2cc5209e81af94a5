import type { MailFacts } from "./kind"

/** The teacher has answered what a learner handed in. */
export const handIn: MailFacts = { label: "Answer to a hand-in", asked: true, about: "person" }
