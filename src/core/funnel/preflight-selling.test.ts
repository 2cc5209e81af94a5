// What preflight says of a funnel that sells. Which of it stops and which is advice is our own; the advice follows rules of
// the trade (common practice).

import { describe, expect, it } from "vitest"
import { sampleOffer, sampleOffers, sellingFunnel } from "../../../tests/support/sample"
import { type FindingRule, sayFindings } from "../finding"
import type { SellingContext } from "../offer/finding"
import type { Offer } from "../offer/offer"
import type { Terms } from "../offer/terms"
import { words } from "../words/en"
import type { Funnel, Step } from "./draft"
import { preflight } from "./preflight"
import type { Outcome } from "./step/list"

const base = sellingFunnel()
const [sales, checkout, further, second, welcome, learning] = base.steps.map((s) => s.id) as [
  number,
  number,
  number,
  number,
  number,
  number,
]
const fine: SellingContext = {
  offers: new Map(sampleOffers.map((o) => [o.id, o])),
  gone: new Map(),
  processor: true,
  statement: "JUNIPER CROCK",
  at: Date.parse("2026-11-24T09:00:00Z"),
}
const context = (selling: SellingContext) => ({
  sender: { name: "Maren", email: "maren@s.example" },
  taken: new Map<string, string>(),
  selling,
  mail: "well" as const,
  webinars: new Map(),
  programmes: new Map(),
  doors: new Map(),
})
const check = (f: Funnel, selling = fine) => preflight(f, context(selling))
const rules = (f: Funnel, selling = fine) => check(f, selling).map((x) => x.rule)
const withOffer = (id: number, change: Partial<Offer>): SellingContext => ({
  ...fine,
  offers: new Map([...fine.offers].map(([k, o]) => [k, k === id ? { ...o, ...change } : o])),
})
const withTerms = (id: number, ...terms: Terms[]) =>
  withOffer(id, { terms: terms.map((t, i) => ({ id: i + 1, name: "", terms: t })) })
const withStep = (id: number, change: Partial<Step>, f = base): Funnel => ({
  ...f,
  steps: f.steps.map((s) => (s.id === id ? { ...s, ...change, settings: { ...s.settings, ...change.settings } } : s)),
})
const lead = (from: number, outcome: Outcome, to: number | null, f = base): Funnel => ({
  ...f,
  streams: f.streams.map((s) => (s.from === from && s.outcome === outcome ? { ...s, to } : s)),
})
/** One more further offer behind a step's outcome. */
const more = (id: number, after: number, outcome: Outcome, offer: number, f = base): Funnel => {
  const was = f.streams.find((s) => s.from === after && s.outcome === outcome)!.to
  const step: Step = {
    ...f.steps.find((s) => s.id === further)!,
    id,
    name: `Extra ${id}`,
    path: `extra-${id}`,
    settings: { offer, terms: null, replaces: false, skipAs: "accepted" },
  }
  return {
    ...lead(after, outcome, id, f),
    steps: [...f.steps, step],
    streams: [
      ...lead(after, outcome, id, f).streams,
      { from: id, outcome: "accepted", to: was },
      { from: id, outcome: "declined", to: was },
    ],
  }
}
const free: Terms = { kind: "free" }
const withMore: SellingContext = {
  ...fine,
  offers: new Map([
    ...fine.offers,
    [4, sampleOffer(4, "Shelf", 1_900, [{ kind: "post", title: "A shelf" }])],
    [
      5,
      sampleOffer(5, "Bundle", 39_000, [
        { kind: "offer", offer: 2, title: "Koji" },
        { kind: "offer", offer: 1, title: "The Year" },
      ]),
    ],
    [6, sampleOffer(6, "Crock", 900, [{ kind: "post", title: "A crock" }])],
  ]),
}

describe("a funnel that sells", () => {
  it("has nothing found in it as New funnel makes it", () => {
    expect(check(base)).toEqual([])
  })

  const cases: [string, FindingRule, Funnel, SellingContext?][] = [
    ["an offer that gives nothing", "offer-gives-nothing", base, withOffer(1, { gifts: [] })],
    [
      "a course sold that is a draft",
      "course-not-ready",
      base,
      withOffer(2, { gifts: [{ kind: "course", course: 8, title: "Koji", state: "draft", lessons: 3 }] }),
    ],
    [
      "a course sold without a live lesson",
      "course-not-ready",
      base,
      withOffer(2, { gifts: [{ kind: "course", course: 8, title: "Koji", state: "live", lessons: 0 }] }),
    ],
    ["no card processor", "no-processor", base, { ...fine, processor: false }],
    ["no statement text", "no-statement-text", base, { ...fine, statement: "" }],
    [
      "a statement text that can't stand",
      "no-statement-text",
      base,
      { ...fine, statement: "Gärtopf & Söhne, Fernvik am See" },
    ],
    ["two currencies on one way", "currencies-mixed", base, withOffer(2, { currency: "NOK" })],
    [
      "a second chance that isn't cheaper",
      "second-chance-not-cheaper",
      base,
      withTerms(3, { kind: "full", amount: 6_400 }),
    ],
    ["the same offer twice on one way", "offer-twice-on-a-path", withStep(second, { settings: { offer: 2 } })],
    ["what was just bought, offered again", "offer-twice-on-a-path", withStep(further, { settings: { offer: 1 } })],
    [
      "something in the bundle bought, offered again",
      "already-in-the-bundle",
      withStep(checkout, { settings: { offer: 5 } }),
      withMore,
    ],
    [
      "a limit that is reached",
      "offer-not-to-be-had",
      base,
      { ...withOffer(1, { pieces: 10 }), gone: new Map([[1, 10]]) },
    ],
    ["terms that are over", "offer-not-to-be-had", base, withOffer(2, { until: fine.at })],
    ["an offer that can't be had yet", "offer-not-to-be-had", base, withOffer(2, { from: fine.at + 1 })],
    ["a checkout that sells nothing", "offer-missing", withStep(checkout, { settings: { offer: null } })],
    ["an offer that was taken off", "offer-missing", withStep(further, { settings: { offer: 99 } })],
    [
      "a checkout without its form",
      "page-without-form",
      withStep(checkout, { page: { version: 1, title: "T", blocks: [] } }),
    ],
    [
      "a further offer without yes and no",
      "page-without-form",
      withStep(further, { page: { version: 1, title: "T", blocks: [] } }),
    ],
    [
      "free beside paid at one checkout",
      "paid-form-charges-nothing",
      base,
      withTerms(1, { kind: "full", amount: 100 }, free),
    ],
    ["a further offer to be paid after a free checkout", "no-card-to-charge", base, withTerms(1, free)],
    ["a further offer right after the sales page", "no-card-to-charge", lead(sales, "clicked", further)],
    ["a way that misses the welcome page", "path-misses-the-welcome", lead(second, "declined", learning)],
    ["a purchase that goes back to the sales page", "path-misses-the-welcome", lead(checkout, "bought", sales)],
    ["three further offers in a row", "many-further-offers", more(20, second, "declined", 4), withMore],
    [
      "a free form that gives what is sold",
      "free-form-gives-paid",
      {
        ...withStep(welcome, {}),
        steps: base.steps.map((s) => (s.id === sales ? { ...s, kind: "optin" as const } : s)),
        effects: [
          { id: 1, step: sales, outcome: "joined", kind: "open-course", settings: { course: 7 }, name: "First" },
        ],
      },
    ],
  ]
  it.each(cases)("is told of %s", (_, rule, funnel, selling = fine) => {
    const found = sayFindings(words, check(funnel, selling)).find((f) => f.rule === rule)
    expect(rules(funnel, selling)).toContain(rule)
    expect(found!.suffers.length).toBeGreaterThan(20)
    expect(found!.says).not.toBe("")
    expect(`${found!.suffers} ${found!.says}`).not.toMatch(/undefined|null|\[object/)
  })

  it.each([
    [
      "something smaller for whoever declined a bundle is no repetition",
      withStep(further, { settings: { offer: 5 } }),
      withMore,
    ],
    ["two further offers are enough", base, fine],
    ["one sent by post is never in the bundle", more(20, second, "accepted", 6), withMore],
    [
      "a subscription after instalments",
      base,
      withTerms(2, {
        kind: "subscription",
        upFront: 0,
        trial: null,
        amount: 100,
        every: { unit: "month", count: 1 },
        times: null,
      }),
    ],
  ] as const)("finds no fault where %s", (_, funnel, selling) => {
    const odd = rules(funnel, selling).filter((r) => r !== "second-chance-not-cheaper" && r !== "many-further-offers")
    expect(odd).toEqual([])
  })

  it("weighs a year of a subscription against one payment", () => {
    const monthly = (amount: number): Terms => ({
      kind: "subscription",
      upFront: 0,
      trial: null,
      amount,
      every: { unit: "month", count: 1 },
      times: null,
    })
    expect(rules(base, withTerms(3, monthly(600)))).toContain("second-chance-not-cheaper") // 6.00 + 12 × 6.00 against 64.00
    expect(rules(base, withTerms(3, monthly(400)))).not.toContain("second-chance-not-cheaper")
  })
  it("calls a wholly free checkout advice, and stops where some pay", () => {
    expect(check(base, withTerms(1, free)).find((f) => f.rule === "paid-form-charges-nothing")?.weight).toBe("advice")
    expect(
      check(base, withTerms(1, { kind: "full", amount: 1 }, free)).find((f) => f.rule === "paid-form-charges-nothing")
        ?.weight,
    ).toBe("stop")
  })
})
