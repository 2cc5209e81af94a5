// Any edit of a funnel, and any run of them, taken back gives what was; and whatever is done, every way leads somewhere that
// is there. Properties, with a fixed seed.
import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { sampleFunnel, sellingFunnel } from "../../../tests/support/sample"
import type { Funnel } from "./draft"
import * as edit from "./edit"
import { keepStructure, readStructure } from "./read"
import { refsOfFunnel } from "./refs"
import { hasPage, type Outcome, offerOf, outcomes, waysOf } from "./step/list"

const of = <T>(list: readonly T[], n: number): T => list[n % list.length]!
const anyOutcome = Object.keys(outcomes) as Outcome[]

type Act = (f: Funnel, a: number, b: number, c: number) => Funnel | null
const acts: Record<string, Act> = {
  insert: (f, a, b) =>
    edit.insertStep(f, of(f.steps, a).id, of(anyOutcome, b), {
      kind: of(["further", "sales", "checkout", "letter"] as const, a + b),
      name: `N${b}`,
      path: `n/${a}-${b}`,
      page: null,
      settings: { offer: 2 },
    })?.funnel ?? null,
  move: (f, a, b, c) => edit.moveStep(f, of(f.steps, a).id, of(f.steps, b).id, of(anyOutcome, c))?.funnel ?? null,
  copy: (f, a, b, c) =>
    edit.copyStep(f, of(f.steps, a).id, of(f.steps, b).id, of(anyOutcome, c), { name: "C", path: `c/${a}` })?.funnel ??
    null,
  remove: (f, a) => edit.removeStep(f, of(f.steps, a).id),
  exchange: (f, a, b) => {
    const [x, y] = [of(f.steps, a).id, of(f.steps, b).id]
    return edit.exchangePlaces(f, [x, y], [y, x])
  },
  rewire: (f, a, b, c) => edit.rewire(f, of(f.steps, a).id, of(anyOutcome, b), c % 4 ? of(f.steps, c).id : null),
  effect: (f, a, b) => {
    const made = edit.addEffect(f, of(f.steps, a).id, of(anyOutcome, b), {
      kind: "tag-on",
      settings: { tag: b + 1 },
      name: "t",
    })
    return made === "twice" ? null : made
  },
  uneffect: (f, a) => (f.effects.length ? edit.removeEffect(f, of(f.effects, a).id) : null),
  sell: (f, a, b) =>
    edit.changeSold(f, of(f.steps, a).id, { offer: b + 1, terms: null, replaces: b % 2 === 1, skipAs: "declined" }),
}
const run = fc.array(fc.tuple(fc.constantFrom(...Object.keys(acts)), fc.nat(40), fc.nat(40), fc.nat(40)), {
  maxLength: 12,
})
const start = fc.constantFrom(sellingFunnel(), sampleFunnel())
const played = (f: Funnel, acted: [string, number, number, number][]) =>
  acted.reduce((now, [name, a, b, c]) => acts[name]!(now, a, b, c) ?? now, f)

describe("steps that exchange places", () => {
  it("take their pages along and leave the ways; done twice, nothing has changed", () => {
    const two = edit.insertStep(
      sellingFunnel(),
      sellingFunnel().steps.find((s) => s.kind === "checkout")!.id,
      "bought",
      {
        kind: "further",
        name: "Another",
        path: "another",
        page: null,
        settings: { offer: 2 },
      },
    )!
    const places = two.funnel.steps.filter((s) => s.kind === "further").map((s) => s.id)
    expect(places.length).toBeGreaterThan(1)
    const order = [...places].reverse()
    const changed = edit.exchangePlaces(two.funnel, places, order)!
    const leads = (f: Funnel, from: string) =>
      f.streams.find(
        (t) =>
          t.from ===
          of(
            f.steps.filter((s) => s.kind === from),
            0,
          ).id,
      )!.to
    expect(leads(changed, "checkout")).toBe(order[places.indexOf(leads(two.funnel, "checkout")!)])
    expect(edit.exchangePlaces(changed, order, places)).toEqual(two.funnel)
    expect(edit.exchangePlaces(two.funnel, places, [places[0]!, places[0]!])).toBeNull()
    expect(
      edit.exchangePlaces(two.funnel, [two.funnel.steps[0]!.id, places[0]!], [places[0]!, two.funnel.steps[0]!.id]),
    ).toBeNull()
  })
})

describe("edits of a funnel", () => {
  it("taken back, give what was", () => {
    fc.assert(
      fc.property(start, run, (was, acted) => {
        const kept = readStructure(JSON.parse(JSON.stringify(keepStructure(was))))
        expect(edit.undo(played(was, acted), kept)).toEqual(was)
      }),
      { numRuns: 300, seed: 8 },
    )
  })

  it("leave every way leading to a step that is there, once, and every effect at one", () => {
    fc.assert(
      fc.property(start, run, (was, acted) => {
        const f = played(was, acted)
        const ids = new Set(f.steps.map((s) => s.id))
        expect(ids.size).toBe(f.steps.length)
        for (const t of f.streams) {
          expect(ids.has(t.from) && (t.to === null || ids.has(t.to))).toBe(true)
          expect(waysOf(f.steps.find((s) => s.id === t.from)!.kind)).toContain(t.outcome)
        }
        const ways = f.streams.map((t) => `${t.from}.${t.outcome}`)
        expect(new Set(ways).size).toBe(ways.length)
        for (const e of f.effects) expect(ids.has(e.step)).toBe(true)
        for (const { from } of refsOfFunnel(f)) if (from.step !== undefined) expect(ids.has(from.step)).toBe(true)
        expect(f.steps.some((s) => hasPage(s.kind))).toBe(true)
      }),
      { numRuns: 300, seed: 9 },
    )
  })

  it("keep pages, names and addresses that were edited meanwhile when the structure is taken back", () => {
    const was = sellingFunnel()
    const [first] = was.steps
    const renamed = edit.renameStep(was, first!.id, "Better", "better")!
    const grown = acts.insert!(renamed, 1, anyOutcome.indexOf("bought"), 0)!
    const back = edit.undo(grown, { ...was, mailsTo: [] })
    expect(back.steps[0]).toMatchObject({ name: "Better", path: "better" })
    expect(back.steps.map((s) => s.id)).toEqual(was.steps.map((s) => s.id))
  })

  it("can't do what makes no sense", () => {
    const f = sellingFunnel()
    const learning = f.steps.at(-1)!.id
    const [sales, checkout] = f.steps.map((s) => s.id) as [number, number]
    expect(edit.removeStep(f, learning)).toBeNull()
    expect(edit.rewire(f, sales, "bought", checkout)).toBeNull()
    expect(edit.rewire(f, sales, "clicked", 99)).toBeNull()
    expect(edit.moveStep(f, sales, sales, "clicked")).toBeNull()
    expect(edit.copyStep(f, learning, sales, "clicked", { name: "", path: "" })).toBeNull()
    expect(edit.changeSold(f, sales, { offer: 1, terms: null, replaces: false, skipAs: "accepted" })).toBeNull()
    const sold = edit.changeSold(f, checkout, { offer: 3, terms: 1, replaces: true, skipAs: "declined" })!
    // A checkout has no terms of its own, and replaces nothing.
    expect(sold.steps[1]!.settings).toEqual({ offer: 3 })
    expect(offerOf(sold.steps[1]!)).toBe(3)
  })
})
