// What whoever has a seat is reminded of, a day, an hour and ten minutes before: written so that each is true whenever it comes.
import { richChip } from "../mail/chip"
import { escapeHtml } from "../page/html"
import type { SequenceStep } from "../sequence/step/list"
import type { Webinar } from "./webinar"

export type Reminder = {
  /** Minutes before the start. */
  readonly before: number
  readonly subject: string
  readonly preview: string
  readonly body: string
  readonly button: string
}

const hello = `<p>Hello ${richChip("first-name", "friend")},</p>`

export function remindersOf(w: Pick<Webinar, "title" | "promise" | "host" | "prepare">): Reminder[] {
  const title = escapeHtml(w.title)
  const host = w.host ? `<p>${escapeHtml(w.host)}</p>` : ""
  const prepare = w.prepare ? `<p>${escapeHtml(w.prepare)}</p>` : ""
  return [
    {
      before: 1440,
      subject: `In a day: ${w.title}`,
      preview: w.promise,
      body: `${hello}<p>“${title}” begins in a day. ${escapeHtml(w.promise)}</p>${prepare}<p>The button is your own way into the room.</p>${host}`,
      button: "To the room",
    },
    {
      before: 60,
      subject: `In an hour: ${w.title}`,
      preview: "Your way into the room is inside",
      body: `${hello}<p>“${title}” begins in an hour. The room opens a little before.</p>${prepare}${host}`,
      button: "To the room",
    },
    {
      before: 10,
      subject: `In ten minutes: ${w.title}`,
      preview: "The room is open",
      body: `${hello}<p>“${title}” is about to begin. The room is open.</p>${host}`,
      button: "Go in",
    },
  ]
}

/** The steps of their sequence: whoever registers too late for one leaves it out. */
export function reminderSteps(
  webinar: number,
  mails: readonly { readonly before: number; readonly mail: number }[],
): SequenceStep[] {
  return mails.flatMap(({ before, mail }, i): SequenceStep[] => [
    {
      id: 2 * i + 1,
      kind: "wait",
      wait: { for: "moment", moment: { of: "webinar-starts", id: webinar }, minutes: -before, late: "leave-out" },
    },
    { id: 2 * i + 2, kind: "send", mail },
  ])
}
