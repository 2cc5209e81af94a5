// The port by which a mail that is due gets its words: each kind's letter is written by the domain it is about.

import { escapeHtml } from "@/core/html"
import type { Look } from "@/core/look/look"
import type { Letter } from "@/core/mail/compose"
import type { From } from "@/core/mail/from"
import type { MailKind } from "@/core/mail/kind/list"
import type { Goes } from "@/core/mail/sending-rules"
import type { Picture } from "@/core/page/picture"
import type { Config } from "../config"
import type { Db } from "../db/pool"
import type { Attached, CalendarPart } from "./mailer"

/** Who the school is, as its mails say it. */
export type LetterSchool = {
  readonly name: string
  readonly sender_name: string
  readonly sender_email: string
  readonly postal_address: string
  readonly look: Look
  readonly logo: Picture | null
  readonly zone: string
}

export type DueMail = {
  readonly id: number
  readonly kind: MailKind
  readonly person_id: number | null
  readonly to_email: string
  /** As a mail may say it: what looks like an address or a link is left out. */
  readonly to_name: string
  readonly funnel_id: number | null
  readonly enrolment_id: number | null
  readonly sequence_mail_id: number | null
  readonly pending_join_id: number | null
  readonly way_in_id: number | null
  readonly studio_way_in_id: number | null
  readonly address_change_id: number | null
  readonly comment_id: number | null
  readonly order_id: number | null
  readonly plan_id: number | null
  readonly refund_id: number | null
  readonly registration_id: number | null
  readonly room_message_id: number | null
  readonly payout_to_id: number | null
  readonly bank_change_id: number | null
  readonly offer_id: number | null
  readonly course_id: number | null
  readonly message_id: string | null
  readonly tries: number
  /** The claim under which it is being sent. */
  readonly claimed_by: string | null
  /** What is said in it besides, where something was typed for it. */
  readonly note: string | null
  /** Of sequences and broadcasts: how it follows the school's sending rules. */
  readonly goes: Goes | null
  readonly due_at: Date
  /** From then on it is left out. */
  readonly not_after: Date | null
  /** When it was first due, where it has been held since. */
  readonly wanted_at: Date | null
  /** Whether it was put off to its turn before. */
  readonly paced: number
  readonly broadcast_id: number | null
  readonly variant: number | null
  readonly sequence_state: string | null
  readonly broadcast_state: string | null
  /** IANA zone of its reader. */
  readonly zone: string | null
  readonly person_paused: number
  readonly live_version_id: number | null
  readonly live_release_id: number | null
  readonly address_id: number | null
  readonly suppressed: "left" | "undeliverable" | null
}

/** Where a button leads: a lesson, or a page of a funnel. */
export type Leads = { readonly lesson: number | null; readonly step: number | null }

export type WrittenLetter = Omit<Letter, "foot"> & {
  /** Whom it comes from, where that isn't as the school says. */
  readonly from?: From
  /** The link by which its reader leaves, where there is one to leave. */
  readonly leave?: { readonly says: string; readonly url: string }
  /** What its chips say besides the reader's name and the school's. */
  readonly course?: { readonly title: string; readonly teacher: string }
  readonly headers?: Readonly<Record<string, string>>
  readonly leads?: Leads
  /** An entry for its reader's calendar (RFC 5546). */
  readonly calendar?: CalendarPart
  /** A file that goes along. */
  readonly attached?: Attached
  /** The address of the picture that tells that it was opened. */
  readonly seen?: string
  /** Replaces the address of link n, so that it is counted. */
  readonly track?: (url: string, n: number) => string
}

/** Null where nothing is left to be said. */
export type WriteLetter = (db: Db, config: Config, school: LetterSchool, mail: DueMail) => Promise<WrittenLetter | null>

export type Letters = Readonly<Record<MailKind, WriteLetter>>

/** Plain text, paragraphs set apart by an empty line, as HTML. */
export function paragraphs(text: string): string {
  return text
    .split("\n\n")
    .map((p) => `<p>${escapeHtml(p)}</p>`)
    .join("")
}
