import type { MailFacts } from "./kind"

/** Whoever asked to recommend can begin. */
export const affiliateApproved: MailFacts = { label: "Affiliate approved", asked: true, about: "person" }
