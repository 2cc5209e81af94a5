import { describe, expect, it } from "vitest"
import type { Funnel } from "./draft"
import type { PreflightContext, ProgrammeFacts } from "./finding"
import { checkProgrammes } from "./preflight-affiliates"
import { affiliatesFunnel } from "./recipe"
import { stepKinds } from "./step/list"

const offer = { id: 7, publicName: "A Year", promise: "Twelve crocks", pictureId: null, refundDays: null, terms: [] }
const sells = {
  id: 1,
  steps: [{ id: 1, kind: "checkout", name: "Checkout", settings: { offer: 7 } }],
} as unknown as Funnel
const facts = (more: Partial<ProgrammeFacts> = {}) => new Map([[7, { name: "A Year", on: true, lacks: [], ...more }]])

describe("preflight of recommending", () => {
  it("says what a programme lacks where its offer is sold, once and as advice", () => {
    const twice = { ...sells, steps: [...sells.steps, { ...sells.steps[0]!, id: 2 }] }
    const all = checkProgrammes(twice, facts({ lacks: ["There is nothing to copy yet."] }))
    expect(all.map((f) => [f.rule, f.weight, f.step, f.fix])).toEqual([
      ["programme-lacks", "advice", 1, { go: "programme", offer: 7 }],
    ])
    expect(checkProgrammes(sells, facts())).toEqual([])
    expect(checkProgrammes(sells, new Map())).toEqual([])
  })
  it("stops a sign-up page whose programme is off, or not chosen", () => {
    const funnel = affiliatesFunnel(offer, "About it", "recommend")
    const page = funnel.steps[0]!
    const rules = (programmes: ReadonlyMap<number, ProgrammeFacts>, step = page) =>
      stepKinds.affiliates.check!({
        step,
        funnel,
        context: { programmes } as unknown as PreflightContext,
        kinds: stepKinds,
      }).map((f) => [f.rule, f.weight])
    expect(rules(facts())).toEqual([])
    expect(rules(facts({ on: false }))).toEqual([["programme-off", "stop"]])
    expect(rules(new Map())).toEqual([["programme-off", "stop"]])
    expect(rules(facts(), { ...page, settings: { offer: null } as never })).toEqual([["programme-off", "stop"]])
    expect(rules(facts(), { ...page, page: { version: 1, title: "", blocks: [] } })).toEqual([
      ["page-without-form", "stop"],
    ])
  })
  it("a new funnel for affiliates leads from its page past the mailbox to the affiliate page", () => {
    const f = affiliatesFunnel(offer, "", "recommend")
    expect(f.steps.map((s) => [s.kind, s.path])).toEqual([
      ["affiliates", "recommend"],
      ["inbox", "recommend/check-your-inbox"],
      ["portal", ""],
    ])
    expect(f.streams.map((s) => s.outcome)).toEqual(["applied", "confirmed"])
    expect(f.sequences).toEqual([])
  })
})
