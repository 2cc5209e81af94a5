// The structure of a funnel: steps put in, copied, moved, removed, rewired, and each of it taken back.

import { afterAll, beforeAll, describe, expect, it } from "vitest"
import type { Funnel } from "@/core/funnel/draft"
import { streamTo } from "@/core/funnel/draft"
import type { Outcome } from "@/core/funnel/step/list"
import { changesOf, undo } from "@/server/funnel/change"
import { loadFunnel } from "@/server/funnel/load"
import { readRiver } from "@/server/funnel/rollup"
import {
  addEffect,
  changeSelling,
  copyStep,
  insertStep,
  leadOutcome,
  moveStep,
  removeEffect,
  removeStep,
} from "@/server/funnel/steps"
import { acceptOffer, declineOffer, offeredTo } from "@/server/ledger/further"
import { type Bought, buy, offer, openShop, type Shop, saved } from "../support/shop"

let shop: Shop
let third = 0
beforeAll(async () => {
  shop = await openShop("steps")
  third = await saved(
    shop.t,
    offer("Shelf", [{ kind: "full", amount: 1_900 }], { gifts: [{ kind: "post", title: "A shelf" }] }),
  )
})
afterAll(() => shop.end())

const s = () => shop.t.s
const draft = async () => (await loadFunnel(s().db, shop.funnel))!
const shape = (f: Funnel) => ({
  steps: f.steps.map((x) => [x.id, x.kind, x.path, x.settings]),
  streams: [...f.streams].sort((a, b) => a.from - b.from || (a.outcome < b.outcome ? -1 : 1)),
  effects: f.effects,
})
const to = (f: Funnel, from: number, outcome: Outcome) => streamTo(f, from, outcome)?.id ?? null
const done = <T extends object>(result: T) => {
  if ("refused" in result) throw new Error(String(result.refused))
  return result as Exclude<T, { refused: string }>
}

describe("the structure", () => {
  it("takes a step in after an outcome, and everyone goes on to where they went before", async () => {
    const before = await draft()
    const made = done(
      await insertStep(s(), { after: shop.step.further, outcome: "accepted", kind: "further", offer: third }),
    )
    const now = await draft()
    expect(to(now, shop.step.further, "accepted")).toBe(made.id)
    expect(to(now, made.id, "accepted")).toBe(shop.step.welcome)
    expect(to(now, made.id, "declined")).toBe(shop.step.welcome)
    expect(to(now, shop.step.further, "declined")).toBe(shop.step.second)
    const step = now.steps.find((x) => x.id === made.id)!
    expect(step).toMatchObject({ kind: "further", name: "Shelf", path: "a-year/shelf", settings: { offer: third } })
    expect(step.page!.blocks.some((b) => b.kind === "decision")).toBe(true)
    expect(now.steps.map((x) => x.id).indexOf(made.id)).toBe(now.steps.findIndex((x) => x.id === shop.step.further) + 1)

    done(await undo(s(), shop.funnel, (await changesOf(s().db, shop.funnel))[0]!.id))
    expect(shape(await draft())).toEqual(shape(before))
    expect(await changesOf(s().db, shop.funnel)).toEqual([])
  })
  it("lets a step go, its people going where whoever declined went; and brings it back with its page and effects", async () => {
    const before = await draft()
    done(await removeStep(s(), shop.step.further))
    const now = await draft()
    expect(now.steps.some((x) => x.id === shop.step.further)).toBe(false)
    expect(to(now, shop.step.checkout, "bought")).toBe(shop.step.second)
    done(await removeStep(s(), shop.step.checkout))
    expect((await draft()).effects).toEqual([])
    const [last, first] = await changesOf(s().db, shop.funnel)
    expect([last!.what, first!.what]).toEqual(["removed “Checkout”", "removed “Koji”"])
    done(await undo(s(), shop.funnel, first!.id))
    const again = await draft()
    expect(shape(again)).toEqual(shape(before))
    expect(again.steps.map((x) => x.page)).toEqual(before.steps.map((x) => x.page))
  })
  it("moves a step behind another outcome, and copies one with its offer", async () => {
    const before = await draft()
    // The second chance becomes what whoever accepted is asked next.
    done(await moveStep(s(), { step: shop.step.second, after: shop.step.further, outcome: "accepted" }))
    const moved = await draft()
    expect(to(moved, shop.step.further, "accepted")).toBe(shop.step.second)
    expect(to(moved, shop.step.further, "declined")).toBe(shop.step.welcome)
    expect(to(moved, shop.step.second, "declined")).toBe(shop.step.welcome)
    const copy = done(await copyStep(s(), { step: shop.step.second, after: shop.step.further, outcome: "declined" }))
    const copied = await draft()
    expect(to(copied, shop.step.further, "declined")).toBe(copy.id)
    expect(copied.steps.find((x) => x.id === copy.id)).toMatchObject({
      settings: { offer: shop.offers.second },
      kind: "further",
    })
    const first = (await changesOf(s().db, shop.funnel)).at(-1)!
    done(await undo(s(), shop.funnel, first.id))
    expect(shape(await draft())).toEqual(shape(before))
  })
  it("changes what a step sells, and where an outcome leads", async () => {
    const before = await draft()
    const change = { step: shop.step.further, offer: third, terms: null, replaces: true, skipAs: "declined" }
    done(await changeSelling(s(), change))
    expect((await draft()).steps.find((x) => x.id === shop.step.further)).toMatchObject({
      settings: { offer: third, terms: null, replaces: true, skipAs: "declined" },
    })
    done(await leadOutcome(s(), { step: shop.step.further, outcome: "declined", to: shop.step.welcome }))
    done(await undo(s(), shop.funnel, (await changesOf(s().db, shop.funnel)).at(-1)!.id))
    expect(shape(await draft())).toEqual(shape(before))
  })
  it("sets something else off, and takes that back, too", async () => {
    const before = await draft()
    done(await addEffect(s(), { step: shop.step.further, outcome: "accepted", kind: "tag-on", tag: "koji" }))
    done(await removeEffect(s(), before.effects[0]!.id))
    expect((await draft()).effects.map((e) => e.kind)).toEqual(["end-sequence", "tag-on"])
    const [last, first] = await changesOf(s().db, shop.funnel)
    expect(last!.what).toBe("changed what “Checkout” sets off")
    done(await undo(s(), shop.funnel, first!.id))
    expect(shape(await draft())).toEqual(shape(before))
  })
  it.each([
    [
      "a step that isn't there",
      () => insertStep(s(), { after: 99_999, outcome: "bought", kind: "further", offer: third }),
    ],
    [
      "an offer that isn't there",
      () => insertStep(s(), { after: shop.step.checkout, outcome: "bought", kind: "further", offer: 99_999 }),
    ],
    [
      "an outcome of another kind",
      () => insertStep(s(), { after: shop.step.checkout, outcome: "declined", kind: "further", offer: third }),
    ],
    [
      "an outcome that leads nowhere",
      () => insertStep(s(), { after: shop.step.checkout, outcome: "stopped", kind: "further", offer: third }),
    ],
    [
      "a kind that can't be put in",
      () => insertStep(s(), { after: shop.step.checkout, outcome: "bought", kind: "learning", offer: third }),
    ],
    [
      "a step after itself",
      () => moveStep(s(), { step: shop.step.second, after: shop.step.second, outcome: "accepted" }),
    ],
    ["the learning area", () => removeStep(s(), shop.step.learning)],
    [
      "terms of another offer",
      () =>
        changeSelling(s(), { step: shop.step.further, offer: third, terms: 1, replaces: false, skipAs: "accepted" }),
    ],
    [
      "an offer at the welcome page",
      () =>
        changeSelling(s(), { step: shop.step.welcome, offer: third, terms: null, replaces: false, skipAs: "accepted" }),
    ],
    ["a change that was taken back already", () => undo(s(), shop.funnel, 99_999)],
  ])("refuses %s, and keeps nothing of it", async (_, act) => {
    const before = shape(await draft())
    expect(await act()).toHaveProperty("refused")
    expect(shape(await draft())).toEqual(before)
    expect(await changesOf(s().db, shop.funnel)).toEqual([])
  })
})

describe("the river of what was sold", () => {
  it("adds up in people and in money, and shows one way alone", async () => {
    const take = async (b: Bought) => {
      const offered = await offeredTo(s(), b.order, shop.step.further)
      if ("quote" in offered) await acceptOffer(s(), b.order.code, shop.step.further, offered.quote.seen)
    }
    const takers = [await buy(shop, "fine"), await buy(shop, "fine")]
    for (const t of takers) await take(t)
    const refusers = [await buy(shop, "fine"), await buy(shop, "fine"), await buy(shop, "fine")]
    for (const b of refusers) await declineOffer(s(), b.order.code, shop.step.further)
    await declineOffer(s(), refusers[0]!.order.code, shop.step.second)
    await buy(shop, "fine") // leaves at the further offer

    const funnel = await draft()
    const range = { from: shop.t.at() - 86_400_000, to: shop.t.at() + 86_400_000 }
    const people = await readRiver(s(), funnel, range)
    const money = await readRiver(s(), funnel, range, "money")
    for (const river of [people, money])
      for (const x of river.steps) {
        expect(x.in, x.name).toBe(x.on + x.here + x.left)
        const brought = river.streams.filter((w) => w.to === x.id).reduce((t, w) => t + w.n, 0)
        expect(brought + x.sources.reduce((t, v) => t + v.n, 0), x.name).toBe(x.in)
      }
    const of = (river: typeof people, id: number) => river.steps.find((x) => x.id === id)!
    expect(of(people, shop.step.further)).toMatchObject({ in: 6, on: 5, here: 1 })
    expect(of(money, shop.step.checkout).sources).toEqual([{ name: "paid here", n: 6 * 29_000 }])
    expect(of(money, shop.step.further).sources).toEqual([{ name: "paid here", n: 2 * 9_000 }])
    // All that is anywhere in the river is all that was charged.
    const resting = money.steps.reduce((t, x) => t + x.here + x.left, 0)
    expect(resting).toBe(6 * 29_000 + 2 * 9_000)

    const declined = [{ step: shop.step.further, outcome: "declined" as const }]
    const some = await readRiver(s(), funnel, range, "people", declined)
    expect(of(some, shop.step.checkout).in).toBe(3)
    expect(of(some, shop.step.welcome).in).toBe(1)
    const twice = await readRiver(s(), funnel, range, "money", [
      ...declined,
      { step: shop.step.second, outcome: "declined" },
    ])
    expect(of(twice, shop.step.welcome).in).toBe(29_000)
    const none = await readRiver(s(), funnel, range, "people", [
      ...declined,
      { step: shop.step.further, outcome: "accepted" },
    ])
    expect(none.steps.every((x) => x.in === 0)).toBe(true)
  })
})
