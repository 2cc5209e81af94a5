// Somebody who comes back after so many days as the funnel says begins their journey again, and is counted as new.
import { afterAll, beforeAll, expect, it } from "vitest"
import { changeFunnel } from "@/server/funnel/edit"
import { recordNewcomers } from "@/server/funnel/journey"
import { comeByLooking } from "@/server/funnel/leave"
import { loadFunnel } from "@/server/funnel/load"
import { publishFunnel } from "@/server/funnel/release"
import { readRiver, rollRests, rollUp } from "@/server/funnel/rollup"
import { someVisitor } from "../support/school"
import { buy, openShop, type Shop } from "../support/shop"

const day = 86_400_000
let shop: Shop
let release: number
const visitor = someVisitor()
beforeAll(async () => {
  shop = await openShop("again")
  release = shop.release
  const { funnel, step } = shop
  await recordNewcomers(shop.t.s.db, [
    { funnel, step: step.checkout, visitor, source: "winter letter", at: shop.t.at() },
  ])
})
afterAll(() => shop.end())

const look = (source: string) =>
  shop.t.s.db.transaction((tx) =>
    comeByLooking(tx, { funnel: shop.funnel, release, step: shop.step.checkout, visitor, source, at: shop.t.at() }),
  )
const after = (days: number) => shop.t.set(shop.t.at() + days * day)
const journeys = () =>
  shop.t.s.db.rows("SELECT run, source, begun_at, paid FROM journey WHERE visitor = ? ORDER BY run", [visitor])

it("says in plain words which number of days it wants", async () => {
  const { s } = shop.t
  for (const againAfter of [0, -3, 1.5, 4000, Number.NaN, "30"])
    expect(await changeFunnel(s, { funnel: shop.funnel, againAfter })).toEqual({
      refused: "Whole days, from 1 to 3650; empty: never.",
      field: "againAfter",
    })
  expect(await changeFunnel(s, { funnel: shop.funnel, againAfter: 30 })).toEqual({ ok: true })
  // What isn't given stays as it is.
  const draft = (await loadFunnel(s.db, shop.funnel))!
  expect(await changeFunnel(s, { funnel: shop.funnel, name: "At each launch" })).toEqual({ ok: true })
  expect(await loadFunnel(s.db, shop.funnel)).toEqual({ ...draft, name: "At each launch", againAfter: 30 })
})

it("holds from the next publishing on, and from the day of the last visit", async () => {
  after(40)
  await look("spring letter")
  expect(await journeys()).toHaveLength(1)
  const done = await publishFunnel(shop.t.s, shop.funnel, true)
  if ("refused" in done) throw new Error(done.refused)
  release = done.release
  Object.assign(shop, { release })
  after(29)
  await look("spring letter")
  expect(await journeys()).toHaveLength(1)
  await buy(shop, "fine", {}, visitor)
  after(30)
  const begun = shop.t.at()
  await look("summer letter")
  expect(await journeys()).toMatchObject([
    { run: 1, source: "winter letter", paid: 29_000 },
    { run: 2, source: "summer letter", begun_at: new Date(begun), paid: 0 },
  ])
})

it("goes on by itself: its own steps, its own money, and every river adds up", async () => {
  const { s } = shop.t
  const { checkout, further } = shop.step
  const begun = shop.t.at()
  after(1)
  await buy(shop, "fine", {}, visitor)
  expect(await journeys()).toMatchObject([{ paid: 29_000 }, { paid: 29_000 }])
  const person = await s.db.rows("SELECT DISTINCT person_id FROM journey WHERE visitor = ?", [visitor])
  expect(person).toHaveLength(1)

  const funnel = (await loadFunnel(s.db, shop.funnel))!
  const second = { from: begun - day, to: begun + day }
  const both = { from: begun - 200 * day, to: begun + day }
  const inOf = async (range: typeof both, step: number, ...ways: Parameters<typeof readRiver>[4] & object) => {
    const river = await readRiver(s, funnel, range, "people", ways)
    for (const x of river.steps) expect(x.in, x.name).toBe(x.on + x.here + x.left)
    return river.steps.find((x) => x.id === step)!
  }
  const bought = { step: checkout, outcome: "bought" as const }
  for (const summed of [false, true]) {
    if (summed) {
      expect(await rollUp(s)).toBeGreaterThan(0)
      await rollRests(s)
    }
    expect(await inOf(second, checkout)).toMatchObject({ in: 1, sources: [{ name: "summer letter", n: 1 }] })
    expect(await inOf(both, checkout)).toMatchObject({ in: 2, on: 2 })
    expect(await inOf(both, further)).toMatchObject({ in: 2, here: 1, left: 1 })
    expect(await inOf(second, further, bought)).toMatchObject({ in: 1, here: 1 })
  }
})

it("begins once, however many looks come at the same time", async () => {
  after(30)
  await Promise.all(Array.from({ length: 12 }, () => look("autumn letter")))
  expect(await journeys()).toMatchObject([{ run: 1 }, { run: 2 }, { run: 3, source: "autumn letter" }])
  const arrived = await shop.t.s.db.rows("SELECT id FROM fact WHERE visitor = ? AND run = 3", [visitor])
  expect(arrived).toHaveLength(1)
})
