// A page on which somebody takes a seat at a webinar: an address for a date.
import type * as v from "valibot"
import { formOf } from "../../page/block/form"
import type { Page } from "../../page/document"
import { escapeHtml } from "../../page/html"
import { refTo } from "../../reference"
import { found } from "../finding"
import { clip } from "../phrase"
import { type StepModule, type WebinarNamed, webinarSettings } from "./kind"

export const registration: StepModule<"registered", v.InferOutput<typeof webinarSettings>> = {
  label: "registration page",
  outcomes: { registered: { verb: "registers", done: "registered", leads: true } },
  entry: true,
  hasPage: true,
  settings: webinarSettings,
  firstPage: ({ webinar }) => (webinar ? registrationPage(webinar) : { version: 1, title: "", blocks: [] }),
  refs: (s) => refTo("webinar", s.webinar, "registers for it"),
  webinar: (s) => s.webinar,
  takesSeat: true,
  free: true,
  needsMail: "nobody could ever confirm, and no way into the room would come",
  check({ step }) {
    const lacks = !step.page || !formOf(step.page)
    return lacks
      ? [found("page-without-form", step, { step: step.name, lacks: "form" }, { go: "page", step: step.id })]
      : []
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
    ],
  }
}
