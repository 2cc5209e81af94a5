// What is written after a webinar: the offer to those who were there, the replay to those who weren't. Ends are those of each reader's seat.

import { escapeHtml } from "../html"
import { richChip } from "../mail/chip"
import type { Webinar } from "../webinar/webinar"
import type { Wait } from "./wait"
import type { WaitedLetter } from "./webinar-reminder"

type Named = { readonly id: number; readonly name: string }
type Told = Pick<Webinar, "title" | "host" | "deal" | "replayDays">

const hello = `<p>Hello ${richChip("first-name", "friend")},</p>`
const span = (minutes: number): Wait => ({ for: "span", minutes })
/** The morning or the middle of the last day, wherever they are: its end is at midnight there. */
const lastDay = -15 * 60

const sign = (w: Told) => (w.host ? `<p>${escapeHtml(w.host)}</p>` : "")

/** For those who were there: what was offered, and a word on the last day of its price. */
export function offerMails(webinar: number, w: Told, offer: Named): WaitedLetter[] {
  const name = escapeHtml(offer.name)
  const until = richChip(`deal-${webinar}`, "the end of the week")
  const deal = w.deal ? `<p>What it costs for your seat is there until ${until}.</p>` : ""
  const first: WaitedLetter = {
    wait: span(60),
    subject: `What I showed you: ${offer.name}`,
    preview: `After “${w.title}”`,
    body: `${hello}<p>thank you for coming to “${escapeHtml(w.title)}”. If you want to go on with me, this is how: “${name}”.</p><p>${richChip(`price-${offer.id}`, "What it costs stands on its page.")}</p>${deal}${sign(w)}`,
    button: "Have a look",
  }
  if (!w.deal) return [first]
  return [
    first,
    {
      wait: {
        for: "moment",
        moment: { of: "deal-ends", id: webinar },
        minutes: lastDay,
        late: "leave-out",
      },
      subject: `Today is the last day: ${offer.name}`,
      preview: "What it costs for your seat ends tonight",
      body: `${hello}<p>what “${name}” costs for your seat is there until ${until}. After that it costs what it costs everybody.</p>${sign(w)}`,
      button: "Have a look",
    },
  ]
}

/** For those who missed it, or left early: the replay, and a word on its last day. */
export function replayMails(webinar: number, w: Told): WaitedLetter[] {
  if (w.replayDays === null) return []
  const until = richChip(`replay-${webinar}`, "the end of the week")
  return [
    {
      wait: span(30),
      subject: `The replay: ${w.title}`,
      preview: "Here is what you missed",
      body: `${hello}<p>“${escapeHtml(w.title)}” is over. If you missed it, or had to go, here it is again. It is there until ${until}.</p>${sign(w)}`,
      button: "To the replay",
    },
    {
      wait: {
        for: "moment",
        moment: { of: "replay-ends", id: webinar },
        minutes: lastDay,
        late: "leave-out",
      },
      subject: `The last day of the replay: ${w.title}`,
      preview: "It goes at midnight where you are",
      body: `${hello}<p>the replay of “${escapeHtml(w.title)}” is there until ${until}.</p>${sign(w)}`,
      button: "To the replay",
    },
  ]
}
