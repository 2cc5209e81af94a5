// Rules that are written twice, for SQL and for the core: on random rows both find the same.
import fc from "fast-check"
import { afterAll, beforeAll, expect, it } from "vitest"
import { runs, runsSql } from "@/core/course/may-open"
import { holdsPiece, type OrderState, orderStates } from "@/core/ledger/order"
import { type TestSchool, testSchool } from "../support/school"

let t: TestSchool
beforeAll(async () => {
  t = await testSchool("rules")
})
afterAll(() => t.end())

it("an admission that runs", async () => {
  const instant = fc.integer({ min: 1_700_000_000_000, max: 1_700_000_000_020 })
  const rows = fc.array(fc.record({ from: instant, until: fc.option(instant) }), { minLength: 1, maxLength: 40 })
  await fc.assert(
    fc.asyncProperty(rows, instant, async (all, at) => {
      const table = all
        .map(() => "SELECT ? AS id, CAST(? AS DATETIME(3)) AS from_at, CAST(? AS DATETIME(3)) AS until_at")
        .join(" UNION ALL ")
      const found = await t.s.db.rows<{ id: number }>(`SELECT id FROM (${table}) a WHERE ${runsSql("a")} ORDER BY id`, [
        ...all.flatMap((a, i) => [i, new Date(a.from), a.until === null ? null : new Date(a.until)]),
        new Date(at),
        new Date(at),
      ])
      expect(found.map((f) => f.id)).toEqual(all.flatMap((a, i) => (runs(a, at) ? [i] : [])))
    }),
    { seed: 5, numRuns: 60 },
  )
})

it("an order that holds a piece of what is limited: while it is being paid and after, not when it is refused or given up", async () => {
  const states = Object.keys(orderStates) as OrderState[]
  const table = states.map(() => "SELECT ? AS state").join(" UNION ALL ")
  const found = await t.s.db.rows<{ state: OrderState }>(`SELECT state FROM (${table}) o WHERE o.${holdsPiece}`, states)
  expect(found.map((f) => f.state)).toEqual(["open", "confirming", "paid"])
})
