// "Your seat": what was registered for, and what to do before. Whoever has a seat rests here until their date, and goes on by what
// came of it.
import type * as v from "valibot"
import { escapeHtml } from "../../html"
import type { Page } from "../../page/document"
import { refTo } from "../../reference"
import { clip } from "../phrase"
import { type StepModule, type WebinarNamed, webinarSettings } from "./kind"

export const confirmation: StepModule<
  "attended" | "left-early" | "missed" | "clicked",
  v.InferOutput<typeof webinarSettings>
> = {
  label: "confirmation page",
  outcomes: {
    attended: { verb: "attends", done: "attended", leads: true },
    "left-early": { verb: "leaves early", done: "left early", leads: true },
    missed: { verb: "misses it", done: "missed it", leads: true },
    // By what is offered in the room, where they were led to its checkout.
    clicked: { verb: "goes to the checkout", done: "clicked on", leads: true, byLooking: true },
  },
  entry: false,
  hasPage: true,
  blocks: ["seat"],
  settings: webinarSettings,
  firstPage: ({ webinar }) => (webinar ? confirmationPage(webinar) : { version: 1, title: "", blocks: [] }),
  refs: (s) => refTo("webinar", s.webinar, "waits for it"),
  webinar: (s) => s.webinar,
  awaits: true,
}

export function confirmationPage(w: WebinarNamed): Page {
  return {
    version: 1,
    title: clip(`Your seat: ${w.title}`, 120),
    blocks: [
      { id: "head", kind: "headline", text: "Your seat" },
      { id: "seat", kind: "seat" },
      ...(w.prepare
        ? [
            { id: "beforehead", kind: "headline" as const, text: "What to do before" },
            { id: "before", kind: "text" as const, html: `<p>${escapeHtml(w.prepare)}</p>` },
          ]
        : []),
    ],
  }
}
