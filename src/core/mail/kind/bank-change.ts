import type { MailFacts } from "./kind"

/** An affiliate's mailbox is asked whether the new bank details are theirs. */
export const bankChange: MailFacts = { label: "New bank details", asked: true, about: "person" }
