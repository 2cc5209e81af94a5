// The way of one e-mail in sentences: when it was wanted, what held it, and what became of it, in the time of its reader.
import { locale } from "../words/locale"
import { cityOf } from "../words/moment"
import type { HeldFor } from "./sending-rules"

export type HeldWhy = HeldFor | "paused-all" | "paused-person" | "paused-sequence" | "paused-broadcast"

export type MailWay = {
  /** What it is of, after "it is": "an e-mail of “Five mornings”". */
  readonly of: string
  readonly state: "due" | "sending" | "sent" | "unsure" | "rejected" | "cancelled" | "held"
  /** Instants in ms. */
  readonly wanted: number
  readonly due: number
  readonly sent: number | null
  /** In their order; `until` null: until somebody lets it go on. */
  readonly holds: readonly { readonly from: number; readonly until: number | null; readonly why: HeldWhy }[]
  /** Whether it was put off to its turn by the sending rate. */
  readonly paced: boolean
  readonly tries: number
  readonly trouble: string | null
  readonly opened: number | null
  readonly clicked: number | null
  readonly bounced: { readonly at: number; readonly says: string } | null
  readonly complained: number | null
  readonly left: number | null
}

/**
 * Sentences, in the order of what happened.
 *
 * @param zone IANA zone of its reader: hours and days are those there
 */
export function waySays(m: MailWay, zone: string): string[] {
  const day = new Intl.DateTimeFormat("en-CA", { timeZone: zone, dateStyle: "short" })
  const date = new Intl.DateTimeFormat(locale, { timeZone: zone, weekday: "long", day: "numeric", month: "long" })
  const clock = new Intl.DateTimeFormat(locale, { timeZone: zone, hour: "2-digit", minute: "2-digit" })
  const when = (at: number) => `${date.format(at)}, ${clock.format(at)}`
  const weekday = new Intl.DateTimeFormat(locale, { timeZone: zone, weekday: "long" })
  const span = (from: number, until: number) =>
    day.format(from) === day.format(until)
      ? `from ${clock.format(from)} to ${clock.format(until)}`
      : `from ${when(from)} to ${when(until)}`
  const why: Record<HeldWhy, (from: number) => string> = {
    night: () => `those hours are left quiet in ${cityOf(zone)}`,
    weekday: (from) => `nothing is sent on a ${weekday.format(from)}`,
    "day-full": (from) => `what one person may get on a day was reached on ${weekday.format(from)}`,
    "week-full": () => "what one person may get in seven days was reached",
    "paused-all": () => "everything was held",
    "paused-person": () => "mail to this person was held",
    "paused-sequence": () => "the sequence was paused",
    "paused-broadcast": () => "the broadcast was paused",
  }
  const says = [`It is ${m.of}, and was due on ${when(m.wanted)} (${cityOf(zone)}).`]
  for (const h of m.holds)
    says.push(
      h.until === null
        ? `Held since ${when(h.from)}, because ${why[h.why](h.from)}.`
        : `Held ${span(h.from, h.until)}, because ${why[h.why](h.from)}.`,
    )
  if (m.paced)
    says.push(
      `${m.state === "due" ? "It waits" : "It waited"} for its turn: no more go out at once than the sending rate allows.`,
    )
  if (m.tries > 1 && m.trouble) says.push(`The mail server did not take it at first: ${m.trouble}.`)
  switch (m.state) {
    case "sent":
      says.push(`Sent on ${when(m.sent ?? m.due)}.`)
      break
    case "due":
      says.push(`It goes on ${when(m.due)}${m.trouble ? `, once more: ${m.trouble}` : ""}.`)
      break
    case "sending":
      says.push("It is being handed over just now.")
      break
    case "unsure":
      says.push("It may or may not have gone: the process was stopped while it was handed over. It is not sent again.")
      break
    case "rejected":
      says.push(`It was refused for good: ${m.trouble ?? "no reason was given"}.`)
      break
    case "cancelled":
      says.push(`It does not go: ${m.trouble ?? "what it was of has ended"}.`)
      break
    case "held":
      break
  }
  if (m.opened !== null) says.push(`Opened on ${when(m.opened)}, by its reader or by a machine.`)
  if (m.clicked !== null) says.push(`A link in it was followed on ${when(m.clicked)}.`)
  if (m.bounced) says.push(`It came back on ${when(m.bounced.at)}: ${m.bounced.says}.`)
  if (m.complained !== null) says.push(`Its reader complained on ${when(m.complained)}.`)
  if (m.left !== null) says.push(`Its reader unsubscribed by it on ${when(m.left)}.`)
  return says
}
