import type { MailFacts } from "./kind"

/** Asks the mailbox to confirm what was typed on a form. */
export const confirm: MailFacts = { label: "Confirmation of the address", asked: true, about: "join" }
