import type { MailFacts } from "./kind"

/** A course that somebody waits for can be had. */
export const courseOpens: MailFacts = { label: "A course they wait for is open", asked: true, about: "person" }
