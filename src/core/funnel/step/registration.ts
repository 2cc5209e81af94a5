// A page on which somebody takes a seat at a webinar: an address for a date.
import type * as v from "valibot"
import { type Finding, found } from "../../finding"
import { escapeHtml } from "../../html"
import { formOf } from "../../page/block/form"
import type { Page } from "../../page/document"
import { refTo } from "../../reference"
import { clip } from "../phrase"
import { type StepModule, type WebinarNamed, webinarSettings } from "./kind"

export const registration: StepModule<"registered", v.InferOutput<typeof webinarSettings>> = {
  label: "registration page",
  outcomes: { registered: { verb: "registers", done: "registered", leads: true } },
  entry: true,
  hasPage: true,
  blocks: ["form"],
  settings: webinarSettings,
  firstPage: ({ webinar }) => (webinar ? registrationPage(webinar) : { version: 1, title: "", blocks: [] }),
  refs: (s) => refTo("webinar", s.webinar, "registers for it"),
  webinar: (s) => s.webinar,
  takesSeat: true,
  free: true,
  needsMail: "nobody could ever confirm, and no way into the room would come",
  check({ step, context }) {
    const list: Finding[] = []
    if (!step.page || !formOf(step.page))
      list.push(found("page-without-form", step, { step: step.name, lacks: "form" }, { go: "page", step: step.id }))
    const id = registration.webinar!(step.settings as v.InferOutput<typeof webinarSettings>)
    const w = id === null ? undefined : context.webinars.get(id)
    if (!w)
      return [
        ...list,
        found("webinar-not-ready", step, { why: "none", step: step.name }, { go: "wiring", step: step.id }),
      ]
    const of = { webinar: w.title, step: step.name }
    const fix = { go: "webinar", webinar: id! } as const
    if (w.toCome === 0) list.push(found("webinar-not-ready", step, { why: "no-date", ...of }, fix))
    if (w.toCome > 0 && w.free === 0) list.push(found("webinar-not-ready", step, { why: "full", ...of }, fix))
    if (w.live && !w.anyTime && !w.meeting)
      list.push(found("webinar-not-ready", step, { why: "no-meeting", ...of }, fix))
    if (!w.live && !w.recording) list.push(found("webinar-not-ready", step, { why: "recording-gone", ...of }, fix))
    const offer = w.offer === null ? undefined : context.selling.offers.get(w.offer)
    const ends = offer?.until ?? Number.POSITIVE_INFINITY
    const advice = { weight: "advice" } as const
    if (w.next && ends <= w.next.starts) list.push(found("webinar-not-ready", step, { why: "offer-over", ...of }, fix))
    else if (w.next?.replay && ends < w.next.replay)
      list.push(found("webinar-not-ready", step, { why: "offer-before-replay", ...of }, fix, advice))
    if (w.next?.deal && w.couponUntil !== null && w.couponUntil < w.next.deal)
      list.push(found("webinar-not-ready", step, { why: "coupon-before-deal", ...of }, fix))
    if (w.anyTime && w.live) list.push(found("webinar-not-ready", step, { why: "no-recording", ...of }, fix))
    if (!w.host.trim())
      list.push(found("webinar-not-ready", step, { why: "no-host", ...of }, fix, { weight: "advice" }))
    return list
  },
}

export function registrationPage(w: WebinarNamed): Page {
  return {
    version: 1,
    title: clip(w.title, 120),
    blocks: [
      { id: "promise", kind: "headline", text: clip(w.promise || w.title, 300) },
      {
        id: "intro",
        kind: "text",
        html: `<p><strong>${escapeHtml(w.title)}</strong> is a free webinar of ${w.minutes} minutes${w.host ? ` with ${escapeHtml(w.host)}` : ""}.</p>`,
      },
      {
        id: "join",
        kind: "form",
        says: "Take my seat",
        askName: true,
        consent: `Send me the way into “${w.title}” and reminders by e-mail, and afterwards now and then a letter. I can leave at any time with one click.`,
        confirm: true,
        foreign: false,
      },
      { id: "who", kind: "teacher", teacher: null },
      {
        id: "asked",
        kind: "questions",
        title: "Before you come",
        items: [
          { asks: "How long does it take?", says: `${w.minutes} minutes.` },
          {
            asks: "Can I see it later?",
            says:
              w.replayDays === null
                ? "No: it is there while it is held."
                : `Yes: whoever has a seat finds it again for ${w.replayDays} ${w.replayDays === 1 ? "day" : "days"} afterwards.`,
          },
          {
            asks: "What do I need?",
            says: "A browser, on a phone, a tablet or a computer. There is nothing to install.",
          },
        ],
      },
    ],
  }
}
