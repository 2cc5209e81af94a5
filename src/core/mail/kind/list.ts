// The kinds of mail.
import { accessEnded } from "./access-ended"
import { addressChange } from "./address-change"
import { affiliateApproved } from "./affiliate-approved"
import { affiliateInvited } from "./affiliate-invited"
import { answer } from "./answer"
import { bankChange } from "./bank-change"
import { broadcast } from "./broadcast"
import { confirm } from "./confirm"
import { courseOpens } from "./course-opens"
import { handIn } from "./hand-in"
import type { MailFacts } from "./kind"
import { lessonOpens } from "./lesson-opens"
import { letIn } from "./let-in"
import { mendCard } from "./mend-card"
import { newComments } from "./new-comments"
import { receipt } from "./receipt"
import { refund } from "./refund"
import { report } from "./report"
import { seat } from "./seat"
import { sequence } from "./sequence"
import { statement } from "./statement"
import { studioWayIn } from "./studio-way-in"
import { teamNote } from "./team-note"
import { wayIn } from "./way-in"

export const mailKinds = {
  confirm,
  "way-in": wayIn,
  "let-in": letIn,
  "lesson-opens": lessonOpens,
  "course-opens": courseOpens,
  "hand-in": handIn,
  "address-change": addressChange,
  "new-comments": newComments,
  "studio-way-in": studioWayIn,
  seat,
  answer,
  sequence,
  broadcast,
  "team-note": teamNote,
  receipt,
  "mend-card": mendCard,
  "access-ended": accessEnded,
  refund,
  "affiliate-invited": affiliateInvited,
  "affiliate-approved": affiliateApproved,
  "bank-change": bankChange,
  statement,
  report,
} as const satisfies Record<string, MailFacts>

export type MailKind = keyof typeof mailKinds

/** The kinds of mail by which somebody gets in. */
export const letsIn = (Object.keys(mailKinds) as MailKind[]).filter((k) => (mailKinds[k] as MailFacts).letsIn)

/** Whether a mail is not sent to an address: nothing reaches one that can't be reached, and only what was asked for one that left. */
export function isSilenced(kind: MailKind, suppressed: "left" | "undeliverable" | null): boolean {
  return suppressed === "undeliverable" || (suppressed === "left" && !mailKinds[kind].asked)
}
