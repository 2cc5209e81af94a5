// What preflight says of a funnel that fills a webinar: whatever a visitor would suffer, and nothing of what New funnel makes.
import { describe, expect, it } from "vitest"
import { answered, sampleCourse } from "../../../tests/support/sample"
import { sayFindings } from "../finding"
import type { Offer } from "../offer/offer"
import { words } from "../words/en"
import type { Funnel } from "./draft"
import type { PreflightContext, WebinarFacts } from "./finding"
import { preflight } from "./preflight"
import { webinarFunnel } from "./recipe"

const offer = {
  id: 3,
  publicName: "A Year in Ferments",
  promise: "A vegetable a month",
  pictureId: null,
  refundDays: null,
  terms: [],
}
const named = {
  title: "Why brine goes cloudy",
  promise: "See why",
  host: "Maren",
  minutes: 60,
  prepare: "",
  replayDays: 3,
}
const funnel = answered(webinarFunnel(named, 7, { course: sampleCourse, offer, further: null, second: null }, "cloudy"))
const facts: WebinarFacts = {
  title: named.title,
  host: "Maren",
  toCome: 2,
  anyTime: false,
  free: 2,
  live: false,
  meeting: true,
  recording: true,
  replay: true,
  replayDays: 3,
  offer: 3,
  next: { starts: 1_000, deal: 4_000, replay: 3_000 },
  couponUntil: null,
  late: [],
}
const reminded: Funnel = {
  ...funnel,
  effects: [
    {
      id: 1,
      step: funnel.steps[0]!.id,
      outcome: "registered",
      kind: "begin-sequence",
      settings: { sequence: 9, again: "no" },
      name: "Reminders",
    },
  ],
  sequences: [],
}
const sold = {
  id: 3,
  publicName: "A Year in Ferments",
  from: null,
  until: null,
  pieces: null,
  gifts: [],
  terms: [],
} as unknown as Offer
const contextOf = (w: WebinarFacts | null, offers: ReadonlyMap<number, Offer>): PreflightContext => ({
  sender: { name: "Maren", email: "maren@s.example" },
  taken: new Map(),
  selling: { offers, gone: new Map(), processor: true, statement: "JUNIPER CROCK", at: 0 },
  mail: "well",
  webinars: w ? new Map([[7, w]]) : new Map(),
  programmes: new Map(),
  doors: new Map(),
})
const said = (w: WebinarFacts | null, f: Funnel = funnel, offers: ReadonlyMap<number, Offer> = new Map()) =>
  sayFindings(words, preflight(f, contextOf(w, offers))).filter(
    (x) => x.rule === "webinar-not-ready" || x.rule === "page-without-form" || x.rule === "outcome-leads-nowhere",
  )

describe("a funnel that fills a webinar", () => {
  it("is well as New funnel makes it", () => {
    expect(said(facts)).toEqual([])
    expect(funnel.streams.filter((s) => s.from === funnel.steps[1]!.id).map((s) => s.outcome)).toEqual([
      "attended",
      "left-early",
      "missed",
      "clicked",
    ])
  })

  const ends = (until: number) => new Map<number, Offer>([[3, { ...sold, until }]])
  it.each([
    ["it has no date to come", { ...facts, toCome: 0 }, "Add a date", "stop"],
    ["all its seats are taken", { ...facts, free: 0 }, "Add a date, or seats", "stop"],
    [
      "it begins whenever it suits and plays nothing",
      { ...facts, anyTime: true, live: true, recording: false },
      "Choose the recording",
      "stop",
    ],
    ["what it plays is gone", { ...facts, recording: false }, "Choose the recording", "stop"],
    ["it is live and nothing carries it", { ...facts, live: true, meeting: false }, "Choose a recording", "stop"],
    ["its replay has nothing to play", { ...facts, replay: false }, "Choose what the replay plays", "stop"],
    ["its replay has no days", { ...facts, replayDays: null }, "Say for how many days it is there", "stop"],
    ["nobody is named as host", { ...facts, host: " " }, "Name the host", "advice"],
    ["its offer is over before it begins", facts, "Move the end of the offer", "stop", ends(1_000)],
    ["its offer is over before its replay is", facts, "Move one of the two ends", "advice", ends(2_000)],
    [
      "its coupon is over before the end that is told",
      { ...facts, couponUntil: 3_500 },
      "Move the end of the coupon",
      "stop",
    ],
    [
      "its reminders may come too late",
      { ...facts, late: [{ sequence: 9, name: "Reminders" }] },
      "Leave it out for whoever is late",
      "advice",
    ],
  ])("%s", (_, w, says, weight, offers = new Map<number, Offer>()) => {
    const found = said(w, reminded, offers)
    expect(found.map((x) => [x.says, x.weight])).toEqual([[says, weight]])
    expect(found[0]!.suffers).toMatch(/^.{20,}\.$/)
  })

  it("a live one has its replay put in once it was recorded", () =>
    expect(said({ ...facts, live: true, replay: false }).map((x) => [x.says, x.weight])).toEqual([
      ["Choose what the replay plays", "advice"],
    ]))

  it("one without a replay has no page for it, and leads those who missed it to the sale", () => {
    const plain = webinarFunnel(
      { ...named, replayDays: null },
      7,
      { course: sampleCourse, offer, further: null, second: null },
      "cloudy",
    )
    expect(plain.steps.map((s) => s.kind)).not.toContain("replay")
    const to = (outcome: string) => plain.streams.find((s) => s.outcome === outcome)!.to
    expect([to("missed"), to("left-early")]).toEqual([to("attended"), to("attended")])
    expect(said({ ...facts, replay: false, replayDays: null }, plain)).toEqual([])
  })

  it("its webinar is gone: neither registration page nor replay shows anything", () =>
    expect(said(null).map((x) => x.says)).toEqual(["Choose the webinar", "Choose the webinar"]))

  it("a sequence that no registration begins may write after the start", () =>
    expect(said({ ...facts, late: [{ sequence: 9, name: "Later" }] })).toEqual([]))

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

describe("a deadline in words", () => {
  const page = (says: string): Funnel => ({
    ...funnel,
    steps: funnel.steps.map((s) =>
      s.kind === "sales" ? { ...s, page: { ...s.page!, blocks: [{ id: "x", kind: "headline", text: says }] } } : s,
    ),
  })
  const none = { ...facts, next: { starts: 1_000, deal: null, replay: null } }
  const told = (f: Funnel, w: WebinarFacts, offers: ReadonlyMap<number, Offer>) =>
    preflight(f, contextOf(w, offers)).filter((x) => x.rule === "deadline-not-kept")
  it.each([
    ["Only two days left", true],
    ["The offer ends at midnight", true],
    ["Until Sunday you get it for less", true],
    ["A year of ferments, until the shelf is full", false],
    ["Two days on the shelf, then into the cold", false],
  ])("“%s”", (says, is) => {
    expect(told(page(says), none, new Map())).toHaveLength(is ? 1 : 0)
    // Where something ends it may be said.
    expect(told(page(says), none, new Map([[3, { ...sold, until: 5_000 }]]))).toEqual([])
    expect(told(page(says), facts, new Map())).toEqual([])
  })
})
