// The replay of a webinar: there for whoever had a seat, to the end that was told them. Whoever comes later is led to a page one chooses.
import type * as v from "valibot"
import { type Finding, found } from "../../finding"
import type { Page } from "../../page/document"
import { refTo } from "../../reference"
import { clip } from "../phrase"
import { type StepModule, type WebinarNamed, webinarSettings } from "./kind"

export const replay: StepModule<"clicked" | "too-late", v.InferOutput<typeof webinarSettings>> = {
  label: "replay page",
  outcomes: {
    clicked: { verb: "goes to the checkout", done: "clicked on", leads: true, byLooking: true },
    "too-late": { verb: "comes too late", done: "came too late", leads: true },
  },
  entry: false,
  hasPage: true,
  blocks: ["replay"],
  settings: webinarSettings,
  firstPage: ({ webinar }) => (webinar ? replayPage(webinar) : { version: 1, title: "", blocks: [] }),
  refs: (s) => refTo("webinar", s.webinar, "plays it again"),
  webinar: (s) => s.webinar,
  replays: true,
  check({ step, context }) {
    const list: Finding[] = []
    const id = replay.webinar!(step.settings as v.InferOutput<typeof webinarSettings>)
    const w = id === null ? undefined : context.webinars.get(id)
    const of = { webinar: w?.title ?? "", step: step.name }
    if (!w) return [found("webinar-not-ready", step, { why: "none", step: step.name }, { go: "wiring", step: step.id })]
    const fix = { go: "webinar", webinar: id! } as const
    // What is held live can be put in once it was recorded.
    const weight = w.live ? "advice" : "stop"
    if (!w.replay) list.push(found("webinar-not-ready", step, { why: "no-replay", ...of }, fix, { weight }))
    if (w.replayDays === null) list.push(found("webinar-not-ready", step, { why: "replay-without-end", ...of }, fix))
    return list
  },
}

export function replayPage(w: WebinarNamed): Page {
  return {
    version: 1,
    title: clip(`Replay: ${w.title}`, 120),
    blocks: [
      { id: "head", kind: "headline", text: clip(w.title, 300) },
      { id: "replay", kind: "replay" },
    ],
  }
}
