// The letter: a page to read with one way on, put between two steps, gone by looking.
import { afterAll, beforeAll, expect, it } from "vitest"
import { recordNewcomers } from "@/server/funnel/journey"
import { comeByLooking } from "@/server/funnel/leave"
import { loadFunnel } from "@/server/funnel/load"
import { checkFunnel, publishFunnel } from "@/server/funnel/release"
import { addEffect, insertStep } from "@/server/funnel/steps"
import { offeredTo } from "@/server/ledger/further"
import { wayOn } from "@/server/ledger/way-on"
import { personStory } from "@/server/person/people"
import { someVisitor } from "../support/school"
import { buy, openShop, type Shop } from "../support/shop"

let shop: Shop
let letter: number
let release: number
beforeAll(async () => {
  shop = await openShop("letter_step")
  const { s } = shop.t
  const put = await insertStep(s, { after: shop.step.further, outcome: "declined", kind: "letter" })
  if ("refused" in put) throw new Error(put.refused)
  letter = put.id
  const first = await insertStep(s, { after: shop.step.checkout, outcome: "bought", kind: "letter", offer: null })
  if ("refused" in first) throw new Error(first.refused)
  const done = await publishFunnel(s, shop.funnel, true)
  if ("refused" in done) throw new Error(done.refused)
  release = done.release
  Object.assign(shop, { release })
})
afterAll(() => shop.end())

it("comes with a page whose words are still to be written, and is wired on both sides", async () => {
  const funnel = (await loadFunnel(shop.t.s.db, shop.funnel))!
  const step = funnel.steps.find((x) => x.id === letter)!
  expect(step).toMatchObject({ kind: "letter", path: "a-year/letter", name: "Letter" })
  expect(funnel.streams).toContainEqual({ from: shop.step.further, outcome: "declined", to: letter })
  expect(funnel.streams).toContainEqual({ from: letter, outcome: "went-on", to: shop.step.second })
  const rules = (await checkFunnel(shop.t.s, funnel)).map((f) => [f.rule, f.step])
  expect(rules.filter(([, at]) => at === letter)).toEqual([
    ["words-to-write", letter],
    ["words-to-write", letter],
  ])
  // A buyer may pass it on the way to a further offer: their card is known all the same.
  expect(rules.map(([rule]) => rule)).not.toContain("no-card-to-charge")
  expect(rules.map(([rule]) => rule)).not.toContain("path-misses-the-welcome")
})

it("is where a buyer comes to, and a further offer behind it that can't be made leads on, not back", async () => {
  const { order } = await buy(shop, "fine")
  const { s } = shop.t
  expect(await wayOn(s.db, order, shop.t.at())).toBe("/a-year/letter-2")
  await s.db.write(
    "INSERT INTO admission (person_id, course_id, origin, from_at) VALUES (?, ?, 'gift', '2026-01-01')",
    [order.person_id, shop.extra],
  )
  expect(await offeredTo(s, order, shop.step.further)).toEqual({ goTo: "/a-year/welcome" })
})

it("is left by looking at what it leads to, which sets off what hangs on it for whoever is known", async () => {
  const { s } = shop.t
  await addEffect(s, { step: letter, outcome: "went-on", kind: "tag-on", tag: "read it" })
  const done = await publishFunnel(s, shop.funnel, true)
  if ("refused" in done) throw new Error(done.refused)
  const visitor = someVisitor()
  const at = shop.t.at()
  await recordNewcomers(s.db, [{ funnel: shop.funnel, step: letter, visitor, source: "letter", at }])
  const { order } = await buy(shop, "fine", {}, someVisitor())
  await s.db.write("UPDATE journey SET person_id = ? WHERE visitor = ?", [order.person_id, visitor])
  const look = (step: number) =>
    s.db.transaction((tx) =>
      comeByLooking(tx, { funnel: shop.funnel, release: done.release, step, visitor, source: "", at: at + 1000 }),
    )
  await look(shop.step.welcome) // no way leads there from the letter: nothing happens
  await look(shop.step.second)
  const facts = await s.db.rows("SELECT step_id, from_step_id, outcome, via FROM fact WHERE visitor = ? ORDER BY id", [
    visitor,
  ])
  expect(facts).toEqual([
    { step_id: letter, from_step_id: null, outcome: null, via: "source" },
    { step_id: shop.step.second, from_step_id: letter, outcome: "went-on", via: "page" },
  ])
  expect((await personStory(s.db, order.person_id!))!.tags).toEqual(["read it"])
})
