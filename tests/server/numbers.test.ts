// Numbers against the demo's rows, counted out here in another way: row by row, without sums.
import { loadDemo } from "@demo/load"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { addBrought, nothingBrought } from "@/core/numbers/brought"
import { expected } from "@/core/numbers/chain"
import { forecastSteps, freshForecast } from "@/core/numbers/forecast"
import { chainOf, whatFirst } from "@/core/numbers/measured"
import { today } from "@/server/clock"
import { housekeeping } from "@/server/due-list"
import { broughtBy, namesOf, rollSources } from "@/server/numbers/brought"
import { broughtTable } from "@/server/numbers/brought-view"
import { measuredFunnel } from "@/server/numbers/change-view"
import { costsOf, exportCosts, readCostFile, sayCost, setMargin } from "@/server/numbers/cost"
import { plannedOf, readForecast, saveForecast } from "@/server/numbers/forecast"
import { groupAges, groups, timeToBuy } from "@/server/numbers/groups"
import { erasePerson } from "@/server/person/erase"
import { httpCards } from "@/server/port/cards"
import { type TestSchool, testSchool } from "../support/school"

let t: TestSchool
type Journey = {
  funnel: number
  visitor: string
  run: number
  source: string
  begun: number
  person: number | null
  paid: number
}
type Order = {
  id: number
  funnel: number
  visitor: string
  person: number
  made: number
  step: number
  first: number | null
}
type Line = { order: number; charged: number | null; account: string; amount: number; at: number }
let journeys: Journey[]
let orders: Order[]
let lines: Line[]
const day = 86_400_000

beforeAll(async () => {
  const plain = await testSchool("numbers")
  t = { ...plain, s: { ...plain.s, cards: httpCards({ url: "http://127.0.0.1:9", key: "", hookSecret: "" }) } }
  await loadDemo(t.s, 400)
  t.set(today())
  await t.s.db.write("DELETE FROM source_cost")
  journeys = (
    await t.s.db.rows<Omit<Journey, "begun"> & { begun: Date }>(
      "SELECT funnel_id AS funnel, HEX(visitor) AS visitor, run, source, begun_at AS begun, person_id AS person, paid FROM journey",
    )
  ).map((j) => ({ ...j, begun: j.begun.getTime() }))
  orders = (
    await t.s.db.rows<Omit<Order, "made"> & { made: Date }>(
      "SELECT id, funnel_id AS funnel, HEX(visitor) AS visitor, person_id AS person, made_at AS made, step_id AS step, first_id AS first FROM orders WHERE state IN ('paid', 'refunded')",
    )
  ).map((o) => ({ ...o, made: o.made.getTime() }))
  lines = (
    await t.s.db.rows<Omit<Line, "at"> & { at: Date }>(
      "SELECT l.order_id AS `order`, c.order_id AS charged, l.account, l.amount, l.at FROM journal l LEFT JOIN charge c ON c.id = l.charge_id",
    )
  ).map((l) => ({ ...l, at: l.at.getTime() }))
})
afterAll(() => t.end())

const costs = ["income", "refunds", "fees", "commission"]
const keptOf = (which: (l: Line) => boolean) =>
  lines.filter((l) => costs.includes(l.account) && which(l)).reduce((n, l) => n - l.amount, 0)

/** The journey in which an order was made: the last of its visitor that had begun by then. */
const journeyOf = (o: Order) =>
  journeys
    .filter((j) => j.funnel === o.funnel && j.visitor === o.visitor && j.begun <= o.made)
    .sort((a, b) => b.run - a.run)[0]

function byHand(key: (j: Journey) => string, from: number, to: number) {
  const rows = new Map<string, typeof nothingBrought>()
  const add = (k: string, part: Partial<typeof nothingBrought>) =>
    rows.set(k, addBrought(rows.get(k) ?? nothingBrought, { ...nothingBrought, ...part }))
  for (const j of journeys.filter((x) => x.begun >= from && x.begun < to))
    add(key(j), { visited: 1, joined: j.person === null ? 0 : 1, bought: j.paid > 0 ? 1 : 0 })
  for (const o of orders.filter((x) => x.first === null)) {
    const j = journeyOf(o)
    if (!j || j.begun < from || j.begun >= to) continue
    const kept = keptOf((l) => l.order === o.id)
    const income = lines
      .filter((l) => l.order === o.id && ["income", "refunds"].includes(l.account))
      .reduce((n, l) => n - l.amount, 0)
    add(key(j), { orders: 1, income, kept, keptSquares: kept * kept })
  }
  return new Map([...rows].sort(([a], [b]) => (a < b ? -1 : 1)))
}

const sorted = (rows: ReadonlyMap<string, unknown>) => new Map([...rows].sort(([a], [b]) => (a < b ? -1 : 1)))
const quarter = 900_000

describe("what was brought", () => {
  it("is the same as counted row by row, for any range, before it is summed up and after", async () => {
    const now = Math.ceil(t.at() / quarter) * quarter
    const ranges = [
      [now - 28 * day, now],
      [now - 90 * day + 5 * quarter, now - 30 * day - 7 * quarter],
      [now - 3 * quarter, now],
      [0, now],
    ] as const
    const compare = async () => {
      for (const [from, to] of ranges) {
        const range = { from, to }
        expect(sorted(await broughtBy(t.s.db, "source", range, "EUR"))).toEqual(byHand((j) => j.source, from, to))
        expect(sorted(await broughtBy(t.s.db, "funnel", range, "EUR"))).toEqual(
          byHand((j) => String(j.funnel), from, to),
        )
      }
    }
    await compare()
    while ((await rollSources(t.s, 700)) > 0);
    await compare()
    const whole = byHand(() => "", 0, now).get("")!
    expect(whole.orders).toBeGreaterThan(20)
    expect(whole.visited).toBeGreaterThan(300)
    // Of one funnel alone, and in a currency in which nothing was sold.
    const one = await broughtBy(t.s.db, "source", { from: 0, to: now }, "EUR", 1)
    expect([...one.values()].reduce((n, b) => n + b.visited, 0)).toBe(journeys.filter((j) => j.funnel === 1).length)
    const dollars = await broughtBy(t.s.db, "source", { from: 0, to: now }, "USD")
    expect([...dollars.values()].reduce((n, b) => n + b.orders, 0)).toBe(0)
  })

  it("names affiliates, keeps what is gone, and doesn't change when somebody is erased", async () => {
    const names = await namesOf(t.s.db, "source", ["direct", "@nobody"])
    expect([...names]).toEqual([
      ["direct", "direct"],
      ["@nobody", "nobody"],
    ])
    const now = Math.ceil(t.at() / quarter) * quarter
    const before = await broughtBy(t.s.db, "funnel", { from: 0, to: now }, "EUR")
    const person = journeys.find((j) => j.person !== null && j.paid === 0)!.person!
    await erasePerson(t.s, person)
    await housekeeping(t.s)
    expect(await broughtBy(t.s.db, "funnel", { from: 0, to: now }, "EUR")).toEqual(before)
  })
})

describe("costs", () => {
  it("are spread over their days to the cent, take the place of what stood, and stand beside what was brought", async () => {
    expect(await sayCost(t.s, { source: "podcast", from: "2026-11-01", to: "2026-11-07", amount: "100.00" })).toEqual({
      ok: true,
    })
    expect((await costsOf(t.s.db, "2026-11-01", "2026-11-07")).get("podcast")).toBe(10_000)
    expect((await costsOf(t.s.db, "2026-11-01", "2026-11-01")).get("podcast")).toBe(1_429)
    expect(await readCostFile(t.s, "date,source,amount\n2026-11-07,podcast,0\n2026-11-08,letter,3.50\n")).toEqual({
      lines: 2,
    })
    expect((await costsOf(t.s.db, "2026-11-01", "2026-11-30")).get("podcast")).toBe(10_000 - 1_428)
    expect((await exportCosts(t.s.db))[0]).toEqual({ source: "letter", day: "2026-11-08", amount: 350 })
    const at = (d: string) => Date.parse(`${d}T00:00:00Z`)
    const table = await broughtTable(t.s, "source", {
      from: "2026-11-01",
      to: "2026-11-30",
      range: { from: at("2026-11-01"), to: at("2026-12-01") },
      before: { from: at("2026-10-02"), to: at("2026-11-01") },
    })
    expect(table.rows.find((r) => r.key === "letter")?.cost).toMatchObject({ cost: 350, verdict: "lost", buyer: null })
    expect(table.all.cost?.cost).toBe(10_000 - 1_428 + 350)
  })

  it("are refused in words, and nothing is kept of them", async () => {
    const kept = (await exportCosts(t.s.db)).length
    for (const [input, field] of [
      [{ source: " ", from: "2026-11-01", to: "2026-11-02", amount: "1" }, "source"],
      [{ source: "x", from: "2026-11-02", to: "2026-11-01", amount: "1" }, "to"],
      [{ source: "x", from: "2026-02-30", to: "2026-11-01", amount: "1" }, "from"],
      [{ source: "x", from: "2020-01-01", to: "2026-11-01", amount: "1" }, "to"],
      [{ source: "x", from: "2026-11-01", to: "2026-11-01", amount: "-1" }, "amount"],
    ] as const)
      expect(await sayCost(t.s, input)).toMatchObject({ refused: expect.any(String), field })
    expect(
      await readCostFile(t.s, "date,source,amount,currency\n2026-11-01,x,1,EUR\n2026-11-02,x,1,USD"),
    ).toMatchObject({
      refused: "Line 3: it is in USD. Your school reckons in EUR.",
    })
    expect(await readCostFile(t.s, "")).toHaveProperty("refused")
    expect((await exportCosts(t.s.db)).length).toBe(kept)
    expect(await setMargin(t.s, 120)).toHaveProperty("refused")
    expect(await setMargin(t.s, Number.NaN)).toHaveProperty("refused")
    expect(await setMargin(t.s, 12.5)).toEqual({ ok: true })
  })
})

describe("what to change first", () => {
  it("stands on a chain that gives back the people and the money of the journeys", async () => {
    const now = Math.ceil(t.at() / quarter) * quarter
    const range = { from: 0, to: now }
    const funnel = (await measuredFunnel(t.s, 2, range))!
    const came = journeys.filter((j) => j.funnel === 2).length
    expect(funnel.steps.reduce((n, s) => n + s.comes, 0)).toBe(came)
    const money = orders.filter((o) => o.funnel === 2).reduce((n, o) => n + keptOf((l) => l.charged === o.id), 0)
    const e = expected(chainOf(funnel.steps))
    // Whoever buys at a step and is seen nowhere after isn't counted as having gone on.
    expect(Math.abs(e.total / money - 1)).toBeLessThan(0.05)
    expect(whatFirst(funnel.steps).first[0]!.perPoint).toBeGreaterThan(0)
    expect(await measuredFunnel(t.s, 999, range)).toBeUndefined()
    // A year without a sale.
    const long = { from: Date.parse("2019-01-01"), to: Date.parse("2020-01-01") }
    expect(whatFirst((await measuredFunnel(t.s, 2, long))!.steps).first).toEqual([])
  })
})

describe("a forecast", () => {
  it("is kept as it was typed, begins fresh, and plans what is sold on its terms", async () => {
    expect(await readForecast(t.s, 2)).toEqual(freshForecast)
    const rates = [{ step: 5, outcome: "clicked", from: 0.1, likely: 0.2, to: 0.3 }]
    const typed = { ...freshForecast, perDay: 12.5, click: 80, joined: false, rates }
    expect(await saveForecast(t.s, 2, typed)).toEqual({ ok: true })
    expect(await saveForecast(t.s, 2, { ...typed, days: 14 })).toEqual({ ok: true })
    expect(await readForecast(t.s, 2)).toEqual({ ...typed, days: 14 })
    expect(await saveForecast(t.s, 2, { ...typed, perDay: -1 })).toHaveProperty("refused")
    expect(await saveForecast(t.s, 999, typed)).toHaveProperty("refused")
    const planned = await plannedOf(t.s, 2)
    const sold = await t.s.db.rows<{ id: number; kind: string }>(
      "SELECT id, kind FROM step WHERE funnel_id = 2 AND kind IN ('checkout', 'further')",
    )
    expect([...planned.keys()].sort()).toEqual(sold.map((x) => x.id).sort())
    // 290 with a quarter of tax included.
    expect(planned.get(sold.find((x) => x.kind === "checkout")!.id)).toBe(23_200)
    // A step that is gone since is no longer reckoned with, and breaks nothing.
    const gone = { ...typed, rates: [{ ...rates[0]!, step: 9_999 }] }
    const steps = (await measuredFunnel(t.s, 2, { from: 0, to: Math.ceil(t.at() / quarter) * quarter }))!.steps
    expect(forecastSteps(steps, gone, planned)).toHaveLength(steps.length)
  })
})

describe("groups", () => {
  it("are worth what an independent count of their orders says", async () => {
    const now = t.at()
    const people = await t.s.db.rows<{ id: number; joined: Date }>("SELECT id, joined_at AS joined FROM person")
    const found = await groups(t.s.db, now, "EUR")
    expect(found.length).toBeGreaterThan(3)
    for (const g of found) {
      const from = Date.parse(`${g.monday}T00:00:00Z`)
      const mine = people.filter(
        (p) => p.joined.getTime() >= from && p.joined.getTime() < from + 7 * day && p.joined.getTime() <= now,
      )
      expect(g.joined, g.monday).toBe(mine.length)
      const worth = (within: number) =>
        mine.reduce(
          (n, p) =>
            n +
            orders
              .filter((o) => o.person === p.id && o.first === null)
              .reduce(
                (m, o) => m + keptOf((l) => l.order === o.id && l.at < p.joined.getTime() + within && l.at <= now),
                0,
              ),
          0,
        ) / mine.length
      expect(g.now).toBeCloseTo(worth(1e15), 6)
      for (const a of groupAges)
        if (from + (7 + a) * day > now) expect(g.worth[a]).toBeNull()
        else expect(g.worth[a]).toBeCloseTo(worth(a * day), 6)
    }
  })

  it("buy after as long as their first orders say", async () => {
    const { people, bought, steps } = await timeToBuy(t.s.db, t.at())
    expect(steps.length).toBeGreaterThan(2)
    expect(bought).toBeLessThan(people)
    expect(steps.reduce((n, s) => n + s.happened, 0)).toBe(bought)
    expect(steps[0]!.atRisk).toBeLessThanOrEqual(people)
  })
})
