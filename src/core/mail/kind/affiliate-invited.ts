import type { MailFacts } from "./kind"

/** The school invites somebody to recommend an offer. */
export const affiliateInvited: MailFacts = { label: "Invitation to recommend", asked: false, about: "person" }
