// What preflight says of a funnel that fills a webinar: whatever a visitor would suffer, and nothing of what New funnel makes.
import { describe, expect, it } from "vitest"
import { sampleCourse } from "../../../tests/support/sample"
import { words } from "../words/en"
import type { Funnel } from "./draft"
import { sayFindings, type WebinarFacts } from "./finding"
import { preflight } from "./preflight"
import { webinarFunnel } from "./recipe"

const offer = { id: 3, publicName: "A Year in Ferments", promise: "A vegetable a month" }
const named = { title: "Why brine goes cloudy", promise: "See why", host: "Maren", minutes: 60, prepare: "" }
const funnel = webinarFunnel(named, 7, { course: sampleCourse, offer, further: null, second: null }, "cloudy")
const facts: WebinarFacts = {
  title: named.title,
  host: "Maren",
  toCome: 2,
  anyTime: false,
  recording: true,
  replay: true,
  replayDays: 3,
  offer: 3,
}
const said = (w: WebinarFacts | null, f: Funnel = funnel) =>
  sayFindings(
    words,
    preflight(f, {
      sender: { name: "Maren", email: "maren@s.example" },
      taken: new Map(),
      selling: { offers: new Map(), gone: new Map(), processor: true, statement: "JUNIPER CROCK", at: 0 },
      mail: "well",
      webinars: w ? new Map([[7, w]]) : new Map(),
      doors: new Map(),
    }),
  ).filter(
    (x) => x.rule === "webinar-not-ready" || x.rule === "page-without-form" || x.rule === "outcome-leads-nowhere",
  )

describe("a funnel that fills a webinar", () => {
  it("is well as New funnel makes it", () => {
    expect(said(facts)).toEqual([])
    expect(funnel.streams.filter((s) => s.from === funnel.steps[1]!.id).map((s) => s.outcome)).toEqual([
      "attended",
      "left-early",
      "missed",
    ])
  })

  it.each([
    ["its webinar is gone", null, "Choose the webinar", "stop"],
    ["it has no date to come", { ...facts, toCome: 0 }, "Add a date", "stop"],
    [
      "it begins whenever it suits and plays nothing",
      { ...facts, anyTime: true, recording: false },
      "Choose the recording",
      "stop",
    ],
    ["nobody is named as host", { ...facts, host: " " }, "Name the host", "advice"],
  ])("%s", (_, w, says, weight) => {
    const found = said(w)
    expect(found.map((x) => [x.says, x.weight])).toEqual([[says, weight]])
    expect(found[0]!.suffers).toMatch(/^.{20,}\.$/)
  })

  it("its page has no form, and whoever missed it is led nowhere", () => {
    const [registration, confirmation] = funnel.steps
    const broken: Funnel = {
      ...funnel,
      steps: funnel.steps.map((s) => (s === registration ? { ...s, page: { ...s.page!, blocks: [] } } : s)),
      streams: funnel.streams.map((s) =>
        s.from === confirmation!.id && s.outcome === "missed" ? { ...s, to: null } : s,
      ),
    }
    expect(said(facts, broken).map((x) => x.rule)).toEqual(["page-without-form", "outcome-leads-nowhere"])
  })
})
