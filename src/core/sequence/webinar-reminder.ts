// What whoever has a seat is reminded of, a day, an hour and ten minutes before: written so that each is true whenever it comes.

import { escapeHtml } from "../html"
import { richChip } from "../mail/chip"
import type { Webinar } from "../webinar/webinar"
import type { Wait } from "./wait"

/** An e-mail of a sequence, and what is waited for before it. */
export type WaitedLetter = {
  readonly wait: Wait
  readonly subject: string
  readonly preview: string
  readonly body: string
  readonly button: string
}

const hello = `<p>Hello ${richChip("first-name", "friend")},</p>`

export function remindersOf(
  webinar: number,
  w: Pick<Webinar, "title" | "promise" | "host" | "prepare">,
): WaitedLetter[] {
  // Whoever registers too late for one leaves it out.
  const before = (minutes: number): Wait => ({
    for: "moment",
    moment: { of: "webinar-starts", id: webinar },
    minutes: -minutes,
    late: "leave-out",
  })
  const title = escapeHtml(w.title)
  const host = w.host ? `<p>${escapeHtml(w.host)}</p>` : ""
  const prepare = w.prepare ? `<p>${escapeHtml(w.prepare)}</p>` : ""
  return [
    {
      wait: before(1440),
      subject: `In a day: ${w.title}`,
      preview: w.promise,
      body: `${hello}<p>“${title}” begins in a day. ${escapeHtml(w.promise)}</p>${prepare}<p>The button is your own way into the room.</p>${host}`,
      button: "To the room",
    },
    {
      wait: before(60),
      subject: `In an hour: ${w.title}`,
      preview: "Your way into the room is inside",
      body: `${hello}<p>“${title}” begins in an hour. The room opens a little before.</p>${prepare}${host}`,
      button: "To the room",
    },
    {
      wait: before(10),
      subject: `In ten minutes: ${w.title}`,
      preview: "The room is open",
      body: `${hello}<p>“${title}” is about to begin. The room is open.</p>${host}`,
      button: "Go in",
    },
  ]
}
