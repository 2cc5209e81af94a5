// Numbers against the demo's rows, counted out here in another way: row by row, without sums.
import { loadDemo } from "@demo/load"
import { Temporal } from "temporal-polyfill"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { addBrought, nothingBrought } from "@/core/numbers/brought"
import { daysOfMonth } from "@/core/numbers/cash"
import { expected } from "@/core/numbers/chain"
import { forecastSteps, freshForecast } from "@/core/numbers/forecast"
import { chainOf, unknownFurther, whatFirst } from "@/core/numbers/measured"
import { survival } from "@/core/numbers/survival"
import { furtherOffers, withAdded } from "@/core/numbers/what-if"
import { today } from "@/server/clock"
import { housekeeping } from "@/server/due-list"
import { changesOf } from "@/server/funnel/change"
import { loadFunnel } from "@/server/funnel/load"
import { adoptForecast } from "@/server/numbers/adopt"
import { broughtBy, namesOf } from "@/server/numbers/brought"
import { broughtTable } from "@/server/numbers/brought-view"
import { calledSources, callSource } from "@/server/numbers/called"
import { cashKnown, offersToTry } from "@/server/numbers/cash"
import { measuredFunnel } from "@/server/numbers/change-view"
import { costsOf, exportCosts, readCostFile, sayCost, setMargin } from "@/server/numbers/cost"
import { daysOver } from "@/server/numbers/days-view"
import {
  countedRange,
  forecastOfDays,
  forecastsMade,
  makeForecast,
  readForecast,
  saveForecast,
  weeklyForecasts,
} from "@/server/numbers/forecast"
import { groups, timeToBuy } from "@/server/numbers/groups"
import { reportLetter } from "@/server/numbers/letter/report"
import { daysOf, mondayReports, reportFile, reportOf, weekBefore } from "@/server/numbers/report"
import { groupAges, rollSold } from "@/server/numbers/roll-sold"
import { rollSources } from "@/server/numbers/roll-sources"
import { timesBetween } from "@/server/numbers/times"
import { erasePerson } from "@/server/person/erase"
import { httpCards } from "@/server/port/cards"
import { schoolZone } from "@/server/school-view"
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
        expect(sorted(await broughtBy(t.s.db, "source", { range: range, currency: "EUR" }))).toEqual(
          byHand((j) => j.source, from, to),
        )
        expect(sorted(await broughtBy(t.s.db, "funnel", { range: range, currency: "EUR" }))).toEqual(
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
    const one = await broughtBy(t.s.db, "source", { range: { from: 0, to: now }, currency: "EUR", funnel: 1 })
    expect([...one.values()].reduce((n, b) => n + b.visited, 0)).toBe(journeys.filter((j) => j.funnel === 1).length)
    const dollars = await broughtBy(t.s.db, "source", { range: { from: 0, to: now }, currency: "USD" })
    expect([...dollars.values()].reduce((n, b) => n + b.orders, 0)).toBe(0)
  })

  it("is the same however its orders come into the sums, and again when something more is booked", async () => {
    const asked = { range: { from: 0, to: Math.ceil(t.at() / quarter) * quarter }, currency: "EUR" }
    const read = async () => ({
      source: sorted(await broughtBy(t.s.db, "source", asked)),
      device: sorted(await broughtBy(t.s.db, "device", { ...asked, credit: "first" })),
      groups: await groups(t.s.db, t.at(), "EUR"),
      first: await t.s.db.rows("SELECT * FROM sold_first WHERE n <> 0 ORDER BY joined, days"),
      each: await t.s.db.rows("SELECT * FROM sold_order ORDER BY order_id"),
    })
    const before = await read()
    for (const table of ["sold", "sold_order", "sold_quarter", "sold_day", "sold_group", "sold_first"])
      await t.s.db.write(`DELETE FROM ${table}`)
    await t.s.db.write(
      "INSERT INTO sold_change (order_id) SELECT order_id FROM journal WHERE order_id IS NOT NULL ORDER BY RAND(7)",
    )
    // Several at once, each with some.
    await Promise.all(
      [7, 40, 200].map(async (batch) => {
        while ((await rollSold(t.s.db, batch)) > 0);
      }),
    )
    expect(await read()).toEqual(before)
    const order = orders.find((o) => o.first === null)!
    const book = (once: string, amount: number) =>
      t.s.db.insert("journal", {
        once,
        at: new Date(t.at()),
        order_id: order.id,
        account: "refunds",
        amount,
        currency: "EUR",
        recorded_at: new Date(),
      })
    await book("numbers-test-1", 700)
    const less = await read()
    const kept = (rows: ReadonlyMap<string, unknown>) =>
      [...(rows as ReadonlyMap<string, typeof nothingBrought>).values()].reduce((n, b) => n + b.kept, 0)
    expect([kept(less.source), kept(less.device)]).toEqual([kept(before.source) - 700, kept(before.device) - 700])
    await book("numbers-test-2", -700)
    expect(await read()).toEqual(before)
    await t.s.db.write("DELETE FROM journal WHERE once LIKE 'numbers-test-%'")
  })

  it("counts an order for the first journey of its buyer, wherever that was", async () => {
    const now = Math.ceil(t.at() / quarter) * quarter
    const [from, to] = [now - 120 * day, now - 20 * day]
    const byHandFirst = new Map<string, { orders: number; kept: number; buyers: Set<number> }>()
    for (const o of orders.filter((x) => x.first === null)) {
      const [j] = journeys
        .filter((x) => x.person === o.person)
        .sort((a, b) => a.begun - b.begun || a.funnel - b.funnel || (a.visitor < b.visitor ? -1 : 1))
      if (!j || j.begun < from || j.begun >= to) continue
      const row = byHandFirst.get(j.source) ?? { orders: 0, kept: 0, buyers: new Set<number>() }
      byHandFirst.set(j.source, {
        orders: row.orders + 1,
        kept: row.kept + keptOf((l) => l.order === o.id),
        buyers: row.buyers.add(o.person),
      })
    }
    const rows = await broughtBy(t.s.db, "source", { range: { from, to }, currency: "EUR", credit: "first" })
    expect(byHandFirst.size).toBeGreaterThan(2)
    for (const [source, b] of rows) {
      const hand = byHandFirst.get(source)
      expect({ source, orders: b.orders, kept: b.kept, bought: b.bought }).toEqual({
        source,
        orders: hand?.orders ?? 0,
        kept: hand?.kept ?? 0,
        bought: hand?.buyers.size ?? 0,
      })
    }
  })

  it("says of sequences, webinars and answers what people bought after they began", async () => {
    const now = Math.ceil(t.at() / quarter) * quarter
    const [from, to] = [now - 200 * day, now]
    const asked = { range: { from, to }, currency: "EUR" }
    const field = (await t.s.db.row<{ id: number }>("SELECT id FROM field WHERE kind = 'choice'"))!.id
    for (const [by, sql, more] of [
      ["sequence", "SELECT sequence_id AS k, person_id AS person, begun_at AS at FROM enrolment", {}],
      [
        "webinar",
        "SELECT webinar_id AS k, person_id AS person, made_at AS at FROM registration WHERE state = 'registered' AND person_id IS NOT NULL",
        {},
      ],
      [
        "field",
        `SELECT f.folded AS k, p.id AS person, p.joined_at AS at FROM person p JOIN person_field f ON f.person_id = p.id WHERE f.field_id = ${field}`,
        { field },
      ],
    ] as const) {
      const all = await t.s.db.rows<{ k: string | number; person: number; at: Date }>(sql)
      const began = new Map<string, { k: string; person: number; at: number }>()
      for (const a of all.filter((x) => x.at.getTime() >= from && x.at.getTime() < to)) {
        const key = `${a.k} ${a.person}`
        const at = Math.min(a.at.getTime(), began.get(key)?.at ?? Number.POSITIVE_INFINITY)
        began.set(key, { k: String(a.k), person: a.person, at })
      }
      const rows = await broughtBy(t.s.db, by, { ...asked, ...more })
      expect(rows.size).toBeGreaterThan(0)
      for (const [k, b] of rows) {
        const mine = [...began.values()].filter((x) => x.k === k)
        const later = orders.filter(
          (o) => o.first === null && o.made >= from && mine.some((m) => m.person === o.person && o.made >= m.at),
        )
        const kept = later.reduce((n, o) => n + keptOf((l) => l.order === o.id), 0)
        expect({ by, k, people: b.visited, orders: b.orders, kept: b.kept }).toEqual({
          by,
          k,
          people: mine.length,
          orders: later.length,
          kept,
        })
      }
    }
    const followed = await t.s.db.rows<{ k: number; n: number }>(
      "SELECT e.sequence_id AS k, COUNT(DISTINCT e.person_id) AS n FROM enrolment e JOIN mail m ON m.enrolment_id = e.id AND m.clicked_at IS NOT NULL WHERE e.begun_at >= ? AND e.begun_at < ? GROUP BY 1",
      [new Date(from), new Date(to)],
    )
    const sequences = await broughtBy(t.s.db, "sequence", asked)
    expect(followed.length).toBeGreaterThan(0)
    for (const { k, n } of followed) expect(sequences.get(String(k))!.joined).toBe(n)
  })

  it("shares what was kept among offers, so that they add up to all of it, and says what coupons did", async () => {
    const now = Math.ceil(t.at() / quarter) * quarter
    const asked = { range: { from: 0, to: now }, currency: "EUR" }
    const offers = [...(await broughtBy(t.s.db, "offer", asked)).values()].reduce(addBrought, nothingBrought)
    const charged = new Set(orders.map((o) => o.id))
    const all = keptOf((l) => l.charged !== null && charged.has(l.charged))
    expect(Math.abs(offers.kept - all)).toBeLessThanOrEqual(5)
    expect(offers.visited).toBeGreaterThan(offers.bought)
    const coupons = await broughtBy(t.s.db, "coupon", asked)
    const used = await t.s.db.rows<{ id: number; n: number }>(
      "SELECT coupon_id AS id, COUNT(*) AS n FROM orders WHERE coupon_id IS NOT NULL AND first_id IS NULL AND state IN ('paid', 'refunded') GROUP BY 1",
    )
    expect(used.length).toBeGreaterThan(0)
    expect(new Map([...coupons].map(([k, b]) => [k, b.orders]))).toEqual(new Map(used.map((u) => [String(u.id), u.n])))
    const devices = await broughtBy(t.s.db, "device", asked)
    expect([...devices.keys()].sort()).toEqual(["computer", "phone", "tablet"])
    expect([...devices.values()].reduce((n, b) => n + b.visited, 0)).toBe(journeys.length)
  })

  it("keeps another currency beside, never added to the school’s", async () => {
    const order = orders.find((o) => o.first === null)!
    const period = {
      from: "2000-01-01",
      to: "2100-01-01",
      range: { from: 0, to: Math.ceil(t.at() / quarter) * quarter },
      before: { from: 0, to: 0 },
    }
    const before = await broughtTable(t.s, "funnel", period)
    expect(before.all.others).toEqual([])
    const income = lines
      .filter((l) => l.order === order.id && ["income", "refunds"].includes(l.account))
      .reduce((n, l) => n - l.amount, 0)
    const inDollars = async (currency: string) => {
      await t.s.db.write("UPDATE orders SET currency = ? WHERE id = ?", [currency, order.id])
      await t.s.db.write("UPDATE journal SET currency = ? WHERE order_id = ?", [currency, order.id])
      await t.s.db.write("UPDATE offer SET currency = ? WHERE id = (SELECT MAX(id) FROM offer)", [currency])
      await t.s.db.write("INSERT INTO sold_change (order_id) VALUES (?)", [order.id])
    }
    await inDollars("USD")
    const table = await broughtTable(t.s, "funnel", period)
    expect(table.all.now.income).toBe(before.all.now.income - income)
    expect(table.all.others).toMatchObject([{ currency: "USD", income }])
    await inDollars("EUR")
  })

  it("names affiliates, keeps what is gone, and doesn't change when somebody is erased", async () => {
    const names = await namesOf(t.s.db, "source", ["direct", "@nobody"])
    expect([...names]).toEqual([
      ["direct", "direct"],
      ["@nobody", "nobody"],
    ])
    const now = Math.ceil(t.at() / quarter) * quarter
    const before = await broughtBy(t.s.db, "funnel", { range: { from: 0, to: now }, currency: "EUR" })
    const person = journeys.find((j) => j.person !== null && j.paid === 0)!.person!
    await erasePerson(t.s, person)
    await housekeeping(t.s)
    expect(await broughtBy(t.s.db, "funnel", { range: { from: 0, to: now }, currency: "EUR" })).toEqual(before)
  })
})

describe("a source that is renamed", () => {
  it("takes its people, its money and its costs along, also when what it was called is renamed again", async () => {
    const asked = { range: { from: 0, to: Math.ceil(t.at() / quarter) * quarter }, currency: "EUR" }
    const before = await broughtBy(t.s.db, "source", asked)
    const [first, second] = [...before.keys()].filter((k) => !k.startsWith("@"))
    const both = addBrought(before.get(first!)!, before.get(second!)!)
    await sayCost(t.s, { source: first, from: "2026-11-01", to: "2026-11-01", amount: "3" })
    await sayCost(t.s, { source: second, from: "2026-11-01", to: "2026-11-01", amount: "4" })
    const call = (source: string, called: string) => callSource(t.s, { source, called })
    expect(await call(first!, second!)).toEqual({ ok: true })
    expect(await call(second!, "letters")).toEqual({ ok: true })
    const after = await broughtBy(t.s.db, "source", asked)
    expect(after.get("letters")).toEqual(both)
    expect(after.has(first!) || after.has(second!)).toBe(false)
    expect((await costsOf(t.s.db, "2026-11-01", "2026-11-01")).get("letters")).toBe(700)
    // The other way round, and back.
    expect(await call("letters", first!)).toEqual({ ok: true })
    expect((await broughtBy(t.s.db, "source", asked)).get(first!)).toEqual(both)
    for (const [source] of await calledSources(t.s.db)) await call(source, source)
    expect(await broughtBy(t.s.db, "source", asked)).toEqual(before)
    expect(await call("@wilma", "letters")).toMatchObject({ field: "source" })
    expect(await call("  ", "letters")).toHaveProperty("refused")
    await t.s.db.write("DELETE FROM source_cost")
  })
})

describe("somebody with two devices", () => {
  it("is one person in a funnel, who bought once", async () => {
    const asked = { range: { from: 0, to: Math.ceil(t.at() / quarter) * quarter }, currency: "EUR" }
    const counts = async () => {
      const { visited, joined, bought } = [...(await broughtBy(t.s.db, "funnel", asked)).values()].reduce(
        addBrought,
        nothingBrought,
      )
      return [visited, joined, bought]
    }
    const [visited, joined, bought] = await counts()
    const person = journeys.find((j) => j.person !== null && j.paid === 0 && j.funnel === 1)!.person!
    const none = (
      await t.s.db.row<{ id: number }>(
        "SELECT p.id FROM person p WHERE NOT EXISTS (SELECT 1 FROM journey j WHERE j.person_id = p.id) LIMIT 1",
      )
    )?.id
    const at = new Date(t.at() - day)
    const step = (await t.s.db.row<{ id: number }>("SELECT id FROM step WHERE funnel_id = 1 LIMIT 1"))!.id
    const visitors = [Buffer.alloc(16, 7), Buffer.alloc(16, 8)]
    for (const visitor of visitors)
      await t.s.db.insert("journey", {
        funnel_id: 1,
        visitor,
        source: "direct",
        begun_at: at,
        rest_step_id: step,
        rest_at: at,
      })
    expect(await counts()).toEqual([visited! + 2, joined, bought])
    const known = none ?? person
    await t.s.db.write("UPDATE journey SET person_id = ? WHERE visitor IN (?)", [known, visitors])
    const here = none === undefined ? 0 : 1
    expect(await counts()).toEqual([visited! + here, joined! + here, bought])
    // Paid on one, then on the other; then taken back on one.
    for (const visitor of visitors) await t.s.db.write("UPDATE journey SET paid = 100 WHERE visitor = ?", [visitor])
    expect(await counts()).toEqual([visited! + here, joined! + here, bought! + 1])
    await t.s.db.write("UPDATE journey SET paid = 0 WHERE visitor = ?", [visitors[1]])
    expect((await counts())[2]).toBe(bought! + 1)
    await t.s.db.write("UPDATE journey SET paid = 0, person_id = NULL WHERE visitor IN (?)", [visitors])
    expect((await counts())[2]).toBe(bought)
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
  const stepsOf = async (funnel: number) =>
    (await measuredFunnel(t.s, funnel, { from: 0, to: Math.ceil(t.at() / quarter) * quarter }))!.steps

  it("is kept as it was typed, begins with the visitors that came, and plans what is sold on its terms", async () => {
    const steps = await stepsOf(2)
    const fresh = await readForecast(t.s, 2, steps)
    const came = steps.reduce((n, x) => n + x.comes, 0)
    expect(fresh).toEqual({
      ...freshForecast,
      sources: [{ name: "", perDay: Math.round((came / 28) * 10) / 10, click: 0 }],
    })
    expect(await readForecast(t.s, 2, [])).toEqual(freshForecast)
    const rates = [{ step: steps[0]!.id, outcome: "clicked", from: 0.1, likely: 0.2, to: 0.3 }]
    const typed = { ...freshForecast, sources: [{ name: "ads", perDay: 12.5, click: 80 }], joined: false, rates }
    expect(await saveForecast(t.s, 2, typed)).toEqual({ ok: true })
    expect(await saveForecast(t.s, 2, { ...typed, days: 14 })).toEqual({ ok: true })
    expect(await readForecast(t.s, 2, steps)).toEqual({ ...typed, days: 14 })
    expect(await saveForecast(t.s, 2, { ...typed, sources: [] })).toHaveProperty("refused")
    expect(await saveForecast(t.s, 999, typed)).toHaveProperty("refused")
    const { sales, shares } = await cashKnown(t.s, 2)
    const sold = await t.s.db.rows<{ id: number; kind: string }>(
      "SELECT id, kind FROM step WHERE funnel_id = 2 AND kind IN ('checkout', 'further')",
    )
    expect([...sales].flatMap(([id, c]) => (c.planned.length ? [id] : [])).sort()).toEqual(sold.map((x) => x.id).sort())
    // 290 with a quarter of tax included.
    expect(sales.get(sold.find((x) => x.kind === "checkout")!.id)!.planned[0]).toEqual({ n: 0, month: 0, net: 23_200 })
    for (const share of Object.values(shares)) expect(share >= 0 && share <= 1).toBe(true)
    // A step that is gone since is no longer reckoned with, and breaks nothing.
    const gone = { ...typed, rates: [{ ...rates[0]!, step: 9_999 }] }
    expect(forecastSteps(steps, gone, { sales, shares })).toHaveLength(steps.length)
  })

  it("knows what sales brought by month, of those that are old enough: counted row by row", async () => {
    const now = t.at()
    const month = daysOfMonth * day
    const { sales } = await cashKnown(t.s, 2)
    const checkout = (await t.s.db.row<{ id: number }>(
      "SELECT id FROM step WHERE funnel_id = 2 AND kind = 'checkout'",
    ))!
    const mine = orders.filter((o) => o.step === checkout.id && o.funnel === 2)
    for (const k of [0, 1, 3]) {
      const old = mine.filter((o) => Math.floor((now - o.made) / month) > k)
      const kept = old.reduce(
        (n, o) =>
          n + keptOf((l) => l.charged === o.id && Math.floor(Math.max(0, l.at - o.made) / month) === k && l.at <= now),
        0,
      )
      const seen = sales.get(checkout.id)!.seen[k]!
      expect(seen.of, `month ${k}`).toBe(old.length)
      expect(seen.kept, `month ${k}`).toBeCloseTo(kept / old.length, 0)
    }
  })

  it("is made anew each Monday for whatever had visitors, once", async () => {
    await t.s.db.write("DELETE FROM forecast_made")
    const before = t.at()
    const zone = await schoolZone(t.s.db)
    const monday = (days: number) => {
      const at = Temporal.Instant.fromEpochMilliseconds(before).toZonedDateTimeISO(zone)
      return at.subtract({ days: at.dayOfWeek - 1 - days }).epochMilliseconds
    }
    const on = (at: number) => weeklyForecasts({ ...t.s, clock: { now: async () => at } })
    expect(await on(monday(1))).toBe(0)
    expect(await on(monday(0))).toBeGreaterThan(0)
    expect(await on(monday(0))).toBe(0)
  })
})

describe("times between steps", () => {
  it("are the medians of what lies between two arrivals: counted row by row", async () => {
    const range = { from: t.at() - 300 * day, to: Math.ceil(t.at() / quarter) * quarter }
    const facts = await t.s.db.rows<{
      v: string
      run: number
      step: number
      from: number | null
      outcome: string
      at: Date
    }>(
      "SELECT HEX(f.visitor) AS v, f.run, f.step_id AS step, f.from_step_id AS `from`, f.outcome, f.at FROM fact f JOIN journey j ON j.funnel_id = f.funnel_id AND j.visitor = f.visitor AND j.run = f.run WHERE f.kind = 'arrived' AND f.funnel_id = 2 AND j.begun_at >= ? AND j.begun_at < ?",
      [new Date(range.from), new Date(range.to)],
    )
    const stood = new Map(facts.map((f) => [`${f.v} ${f.run} ${f.step}`, f.at.getTime()]))
    const took = new Map<string, number[]>()
    for (const f of facts.filter((x) => x.from !== null)) {
      const since = stood.get(`${f.v} ${f.run} ${f.from}`)
      if (since === undefined) continue
      const key = `${f.from} ${f.outcome}`
      took.set(
        key,
        [...(took.get(key) ?? []), f.at.getTime() - since].sort((a, b) => a - b),
      )
    }
    const found = await timesBetween(t.s.db, 2, range)
    expect(found.size).toBeGreaterThan(3)
    for (const [key, all] of took) {
      const at = (i: number) => all[i]!
      const median = all.length % 2 ? at((all.length - 1) / 2) : (at(all.length / 2 - 1) + at(all.length / 2)) / 2
      if (all.length < 5) expect(found.has(key)).toBe(false)
      else expect(found.get(key), key).toBeCloseTo(Math.max(0, median), 0)
    }
  })
})

describe("the days before", () => {
  it("are looked at when they were as old as these are now", async () => {
    const to = Math.ceil(t.at() / quarter) * quarter
    const from = to - 28 * day
    const period = { from: "", to: "", range: { from, to }, before: { from: from - 28 * day, to: from } }
    const { all } = await broughtTable(t.s, "funnel", period, { credit: "made" })
    const then = t.at() - 28 * day
    const byThen = orders
      .filter((o) => o.first === null && o.made < then)
      .filter((o) => {
        const j = journeyOf(o)
        return j && j.begun >= period.before.from && j.begun < period.before.to
      })
      .flatMap((o) => lines.filter((l) => l.order === o.id && l.at < then && ["income", "refunds"].includes(l.account)))
    expect(all.before.income).toBe(byThen.reduce((n, l) => n - l.amount, 0))
  })
})

describe("a report", () => {
  it("says what Numbers says, of one funnel or of all, and is mailed on Monday to whoever wants it, once", async () => {
    const zone = await schoolZone(t.s.db)
    const now = Temporal.Instant.fromEpochMilliseconds(t.at()).toZonedDateTimeISO(zone)
    const monday = now.toPlainDate().subtract({ days: now.dayOfWeek - 1 })
    const period = await weekBefore(t.s.db, monday.toString())
    expect([period.from, period.to]).toEqual([
      monday.subtract({ days: 7 }).toString(),
      monday.subtract({ days: 1 }).toString(),
    ])
    const r = await reportOf(t.s, period, null)
    const table = await broughtTable(t.s, "source", period, { credit: "first" })
    expect([r.all.visited, r.all.income, r.sources.length]).toEqual([
      table.all.now.visited,
      table.all.now.income,
      Math.min(12, table.rows.length),
    ])
    expect((await reportOf(t.s, period, 2)).funnel).not.toBeNull()
    expect((await reportFile(t.s.config, r)).bytes.length).toBeGreaterThan(1_000)
    const at = (hours: number) =>
      mondayReports({
        ...t.s,
        clock: { now: async () => monday.toZonedDateTime(zone).add({ hours }).epochMilliseconds },
      })
    expect(await at(8)).toBe(0)
    await t.s.db.write("UPDATE account SET mails_report = 1")
    expect(await at(5)).toBe(0)
    expect(await at(32)).toBe(0)
    expect(await at(8)).toBe(1)
    expect(await at(9)).toBe(0)
    const mail = await t.s.db.row<{ note: string }>("SELECT note FROM mail WHERE kind = 'report'")
    expect(mail!.note).toBe(monday.toString())
    const letter = await reportLetter(t.s.db, t.s.config, { name: "Crock" } as never, { note: mail!.note } as never)
    expect(letter!.subject).toContain("Crock")
    expect(letter!.attached!.filename).toBe(`numbers-${period.from}-${period.to}.pdf`)
    await t.s.db.write("UPDATE account SET mails_report = 0")
  })
})

describe("what was forecast of days", () => {
  it("is each day’s part of the latest forecast before it, as far as the days are over", async () => {
    await t.s.db.write("DELETE FROM forecast_made")
    const zone = await schoolZone(t.s.db)
    const now = Temporal.Instant.fromEpochMilliseconds(t.at()).toZonedDateTimeISO(zone).with({ hour: 12, minute: 0 })
    const s = { ...t.s, clock: { now: async () => now.epochMilliseconds } }
    const made = (ago: number) =>
      makeForecast({ ...t.s, clock: { now: async () => now.subtract({ days: ago }).epochMilliseconds } }, 2)
    await made(10)
    await made(4)
    const [late, early] = await forecastsMade(t.s.db, 2)
    const day = (ago: number) => now.toPlainDate().subtract({ days: ago }).toString()
    const { visits, days, of } = await forecastOfDays(s, 2, day(12), day(-5))
    // Ten of the thirteen days until today were forecast; six by the earlier one, three by the later, and half of today.
    expect([days, of]).toEqual([10, 13])
    const step = early!.document.visits[0]!.step
    const n = (m: typeof late) => m!.document.visits.find((v) => v.step === step)!.n / m!.days
    expect(visits.get(step)).toBeCloseTo(6 * n(early) + 3.5 * n(late), 6)
    expect((await forecastOfDays(s, 2, "2001-01-01", "2001-01-03")).days).toBe(0)
    const over = await daysOver(s, 2)
    expect(over.days.filter((d) => d.band && d.kept !== null)).toHaveLength(over.of)
    expect(over.earlier).toHaveLength(2)
    expect(over.earlier[0]!.of).toBe(3)
  })
})

describe("a clock that was set back", () => {
  it("asks of days as they were known then, and breaks nothing", async () => {
    const back = { ...t.s, clock: { now: async () => t.at() - 10 * day } }
    const over = await daysOver(back, 2)
    expect(over.days.filter((d) => d.kept !== null)).toHaveLength(35)
    const soon = await forecastOfDays(back, 2, "2020-01-01", "2100-01-01")
    expect(soon.days).toBeLessThanOrEqual(soon.of)
    expect(await makeForecast(back, 2)).toBe(true)
    expect(
      await reportOf(
        back,
        daysOf(Temporal.PlainDate.from("2100-01-01"), Temporal.PlainDate.from("2100-01-07"), "UTC"),
        null,
      ),
    ).toMatchObject({
      all: { visited: 0, income: 0 },
      value: null,
    })
  })
})

describe("what is tried in a forecast", () => {
  it("becomes the draft: an offer put in, others exchanged, one left out; what is assumed goes along", async () => {
    const before = (await loadFunnel(t.s.db, 2))!
    const steps = (await measuredFunnel(t.s, 2, countedRange(t.at())))!.steps
    const checkout = before.steps.find((x) => x.kind === "checkout")!
    const [tried] = await offersToTry(t.s)
    const added = [{ offer: tried!.id, name: tried!.name, after: checkout.id, outcome: "bought" }]
    const further = furtherOffers(withAdded(steps, added, unknownFurther())).map((o) => o.id)
    const [, second, third] = further
    const doc = {
      ...(await readForecast(t.s, 2, steps)),
      added,
      order: [second!, further[0]!, ...further.slice(2)],
      without: [third!],
      rates: [{ step: -1, outcome: "accepted", from: 0.1, likely: 0.2, to: 0.3 }],
    }
    const seen = steps.map((x) => x.id)
    expect(await adoptForecast(t.s, 2, doc, seen.slice(1))).toHaveProperty("refused")
    expect(await adoptForecast(t.s, 2, { ...doc, order: [1, 2] }, seen)).toHaveProperty("refused")
    expect((await loadFunnel(t.s.db, 2))!.steps).toEqual(before.steps)
    expect(await adoptForecast(t.s, 2, doc, seen)).toEqual({ ok: true })
    // Pressed once more, since the answer got lost: nothing is put in twice.
    expect(await adoptForecast(t.s, 2, doc, seen)).toHaveProperty("refused")
    const after = (await loadFunnel(t.s.db, 2))!
    const put = after.steps.find((x) => !before.steps.some((b) => b.id === x.id))!
    expect(put.kind).toBe("further")
    expect(after.steps.some((x) => x.id === third)).toBe(false)
    // The second stands where the one that was put in would have stood.
    expect(after.streams.find((x) => x.from === checkout.id && x.outcome === "bought")!.to).toBe(second)
    expect(await readForecast(t.s, 2, steps)).toMatchObject({
      added: [],
      order: [],
      without: [],
      rates: [{ step: put.id, likely: 0.2 }],
    })
    // It was a draft that changed: what is live is as it was, and each change can be taken back.
    expect((await changesOf(t.s.db, 2)).length).toBeGreaterThan(1)
    expect(await adoptForecast(t.s, 999, doc, [])).toHaveProperty("refused")
  })
})

describe("groups", () => {
  it("follow somebody whose day of joining becomes an earlier one, and count again as before", async () => {
    const before = await groups(t.s.db, t.at(), "EUR")
    const who = orders.findLast((o) => o.first === null && o.person !== null)!.person
    const { joined } = (await t.s.db.row<{ joined: Date }>("SELECT joined_at AS joined FROM person WHERE id = ?", [
      who,
    ]))!
    const join = (at: number) => t.s.db.update("person", who!, { joined_at: new Date(at) })
    await join(joined.getTime() - 7 * day)
    const moved = await groups(t.s.db, t.at(), "EUR")
    expect(moved).not.toEqual(before)
    const all = (of: typeof before) => of.reduce((n, g) => n + g.now * g.joined, 0)
    expect(all(moved)).toBeCloseTo(all(before), 4)
    await join(joined.getTime())
    expect(await groups(t.s.db, t.at(), "EUR")).toEqual(before)
  })

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
    // Person by person.
    const dayOf = (at: number) => Math.floor(at / day)
    const joined = await t.s.db.rows<{ id: number; joined: Date }>("SELECT id, joined_at AS joined FROM person")
    const late = joined.filter((p) => dayOf(p.joined.getTime()) >= dayOf(t.at()) - 182)
    expect(people).toBe(late.length)
    const each = late.map((p) => {
      const mine = orders.filter((o) => o.person === p.id && o.first === null).map((o) => o.made)
      const end = mine.length ? Math.max(Math.min(...mine), p.joined.getTime()) : t.at()
      return { for: dayOf(end) - dayOf(p.joined.getTime()) + 1, happened: mine.length > 0, people: 1 }
    })
    expect(steps).toEqual(survival(each))
  })
})
