import type { MailFacts } from "./kind"

/** Asks a mailbox whether an address is to be changed: the old one and the new one, each by itself. */
export const addressChange: MailFacts = { label: "Change of address", asked: true, about: "person" }
