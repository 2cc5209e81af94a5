// Every number that a view takes from sums is the one that counting would give: with nothing in the sums yet, in the middle,
// when all of it is in, with three who sum at once, and after one who died of it.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import type { Funnel, Sequence } from "@/core/funnel/draft"
import { takeChanges } from "@/server/changes"
import { listFunnels, stoppedAt } from "@/server/funnel/funnel-view"
import { arrive, recordNewcomers } from "@/server/funnel/journey"
import { loadFunnel } from "@/server/funnel/load"
import { cameBetween, gatherRests, readRivers, rollRests, rollUp, underWay, wentBy } from "@/server/funnel/rollup"
import { makePerson } from "@/server/person/person"
import { beginSequence } from "@/server/sequence/begin"
import { listSequences } from "@/server/sequence/sequence-view"
import { countOf, countsBy, rollTally } from "@/server/tally"
import { openSchool, someVisitor, type TestSchool, testSchool } from "../support/school"

const day = 86_400_000
const quarter = 900_000

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
let funnel: Funnel
let steps: { optin: number; inbox: number; welcome: number; learning: number }
const started = Date.parse("2026-11-01T09:00:00Z")
beforeAll(async () => {
  t = await testSchool("counts", { start: new Date(started).toISOString() })
  school = await openSchool(t)
  funnel = (await loadFunnel(t.s.db, school.funnel))!
  steps = Object.fromEntries(funnel.steps.map((s) => [s.kind, s.id])) as typeof steps
})
afterAll(() => t.end())

/** Somebody who comes at an instant, goes so far within a minute, and pays on the way where `paid` is given. */
async function come(at: number, far: number, paid = 0): Promise<void> {
  const visitor = someVisitor()
  await recordNewcomers(t.s.db, [{ funnel: funnel.id, step: steps.optin, visitor, source: `from-${at % 3}`, at }])
  const ways = [
    [steps.inbox, "joined"],
    [steps.welcome, "confirmed"],
    [steps.learning, "started"],
  ] as const
  for (const [i, [step, outcome]] of ways.slice(0, far).entries())
    await t.s.db.transaction((tx) =>
      arrive(tx, {
        funnel: funnel.id,
        visitor,
        step,
        outcome,
        via: i === 2 ? "mail" : "page",
        at: at + 20_000 * (i + 1),
        ...(i === 1 && paid ? { paid } : {}),
      }),
    )
}

async function wave(): Promise<void> {
  const at = t.at()
  for (let i = 0; i < 24; i++) await come(at + i * 37 * 60_000, i % 4, i % 5 === 0 ? 1_900 : 0)
}

const one = async (sql: string, values: unknown[] = []) =>
  Number(Object.values((await t.s.db.row<Record<string, string | null>>(sql, values))!)[0] ?? 0)

/** Asks the views and counts by hand, over three ranges that begin and end at odd quarters. */
async function compare(): Promise<void> {
  const { db } = t.s
  const now = Math.ceil(t.at() / quarter) * quarter
  const ranges = [
    { from: started - day, to: now + 2 * day },
    { from: started + 5 * quarter, to: started + 3 * day + 7 * quarter },
    { from: now - 2 * quarter, to: now + 3 * quarter },
  ]
  for (const range of ranges) {
    const span = [new Date(range.from), new Date(range.to)]
    const began = "funnel_id = ? AND begun_at >= ? AND begun_at < ?"
    const mine = [funnel.id, ...span]
    expect((await cameBetween(db, range)).get(funnel.id) ?? 0).toBe(
      await one(`SELECT COUNT(*) FROM journey WHERE ${began}`, mine),
    )
    expect((await wentBy(db, range, ["joined", "confirmed"])).get(funnel.id) ?? 0).toBe(
      await one(
        `SELECT COUNT(*) FROM fact WHERE kind = 'arrived' AND outcome IN ('joined', 'confirmed') AND ${began}`,
        mine,
      ),
    )
    const { people, money } = await readRivers(t.s, funnel, range)
    for (const s of people.steps) {
      const at = [...mine, s.id]
      expect(s.in, s.name).toBe(
        await one(`SELECT COUNT(*) FROM fact WHERE kind = 'arrived' AND ${began} AND step_id = ?`, at),
      )
      expect(s.here + s.left, s.name).toBe(
        await one(`SELECT COUNT(*) FROM journey WHERE ${began} AND rest_step_id = ?`, at),
      )
      expect(s.in, s.name).toBe(s.on + s.here + s.left)
    }
    for (const s of people.steps[0]!.sources)
      expect(s.n).toBe(await one(`SELECT COUNT(*) FROM journey WHERE ${began} AND source = ?`, [...mine, s.name]))
    expect(money.steps.reduce((sum, s) => sum + s.here + s.left, 0)).toBe(
      await one(`SELECT SUM(paid) FROM journey WHERE ${began}`, mine),
    )
  }
  const open = [steps.optin, steps.inbox, steps.welcome]
  const weekAgo = new Date(t.at() - 7 * day).toISOString().slice(0, 10)
  expect(await underWay(t.s, funnel.id, open)).toBe(
    await one("SELECT COUNT(*) FROM journey WHERE funnel_id = ? AND rest_step_id IN (?) AND DATE(rest_at) >= ?", [
      funnel.id,
      open,
      weekAgo,
    ]),
  )
}

describe("rivers and their sums", () => {
  it("agree with counting before anything is summed, in the middle, and when all of it is", async () => {
    await wave()
    await compare()
    expect(await rollUp(t.s, 20)).toBe(20)
    expect(await rollRests(t.s, 33)).toBe(33)
    await compare()
    while ((await rollUp(t.s)) > 0);
    while ((await rollRests(t.s)) > 0);
    expect(await one("SELECT (SELECT COUNT(*) FROM flow_change) + (SELECT COUNT(*) FROM rest_change)")).toBe(0)
    await compare()
  })

  it("agree while three sum at once and others come", async () => {
    t.set(t.at() + 2 * day)
    let coming = true
    const summers = Array.from({ length: 3 }, async () => {
      let taken = 0
      while (coming) taken += (await rollUp(t.s, 7)) + (await rollRests(t.s, 7))
      return taken
    })
    await Promise.all([wave(), wave()])
    coming = false
    const taken = (await Promise.all(summers)).reduce((sum, n) => sum + n, 0)
    expect(taken).toBeGreaterThan(50)
    await compare()
    while ((await rollUp(t.s)) + (await rollRests(t.s)) > 0);
    await compare()
    // What was taken is all that happened, once: days and quarter-hours say the same.
    for (const table of ["river_flow", "river_day"])
      expect(await one(`SELECT SUM(n) FROM ${table}`)).toBe(
        await one("SELECT COUNT(*) FROM fact WHERE kind = 'arrived'"),
      )
    for (const table of ["rest_quarter", "rest_day"])
      expect(await one(`SELECT SUM(n) FROM ${table}`)).toBe(await one("SELECT COUNT(*) FROM journey"))
  })

  it("lose nothing to one who dies of it in the middle", async () => {
    await wave()
    const waiting = await one("SELECT COUNT(*) FROM flow_change")
    const died = takeChanges(t.s.db, "flow_change", 1000, async (tx, ids) => {
      await tx.write(
        "INSERT INTO river_day (funnel_id, quarter, step_id, from_step_id, outcome, via, source, n, money) SELECT funnel_id, DATE(begun_at), step_id, 0, 'lost', via, '', COUNT(*), 0 FROM flow_change WHERE id IN (?) GROUP BY 1, 2, 3, 4, 5, 6, 7",
        ids,
      )
      throw new Error("the process is gone")
    })
    await expect(died).rejects.toThrow("the process is gone")
    expect(await one("SELECT COUNT(*) FROM flow_change")).toBe(waiting)
    expect(await one("SELECT COUNT(*) FROM river_day WHERE outcome = 'lost'")).toBe(0)
    await compare()
  })

  it("stay the same when long ago is gathered, and here turns into left after seven days", async () => {
    while ((await rollUp(t.s)) + (await rollRests(t.s)) > 0);
    t.set(t.at() + 60 * day)
    await come(t.at(), 1)
    while ((await rollUp(t.s)) + (await rollRests(t.s)) > 0);
    const range = { from: started - day, to: t.at() + quarter }
    const before = await readRivers(t.s, funnel, range)
    const rows = await one("SELECT COUNT(*) FROM rest_day")
    while ((await gatherRests(t.s)) > 0);
    expect(await one("SELECT COUNT(*) FROM rest_day")).toBeLessThanOrEqual(rows)
    expect(
      await one("SELECT COUNT(*) FROM rest_quarter WHERE moved > '1970-01-01' AND moved < ?", [
        new Date(started + 20 * day),
      ]),
    ).toBe(0)
    expect(await readRivers(t.s, funnel, range)).toEqual(before)
    const inbox = before.people.steps.find((s) => s.id === steps.inbox)!
    expect(inbox.here).toBe(1)
    expect(inbox.left).toBeGreaterThan(10)
    await compare()
  })
})

describe("tallies", () => {
  it("of people and of who is in a sequence are what counting gives, summed or not", async () => {
    const [first] = funnel.sequences as [Sequence]
    const sequence = first.id
    const add = async (n: number) => {
      const address = { canonical: `p${n}@s.example`, email: `p${n}@s.example` }
      const made = await t.s.db.transaction((tx) =>
        makePerson(tx, { ...address, name: `P ${n}`, zone: "UTC", source: "direct", confirmed: true }, t.at()),
      )
      if (n % 2)
        await t.s.db.transaction((tx) =>
          beginSequence(tx, {
            people: [made.person],
            sequence,
            funnel: funnel.id,
            at: t.at(),
            again: "no",
          }),
        )
    }
    const agree = async () => {
      expect(await countOf(t.s.db, "people")).toBe(await one("SELECT COUNT(*) FROM person"))
      const running = await one("SELECT COUNT(*) FROM enrolment WHERE sequence_id = ? AND ended_at IS NULL", [sequence])
      expect((await countsBy(t.s.db, "running")).get(sequence) ?? 0).toBe(running)
      expect(await listSequences(t.s.db)).toEqual([
        expect.objectContaining({ id: sequence, running, mails: first.mails.length }),
      ])
    }
    for (let n = 0; n < 8; n++) await add(n)
    await agree()
    await Promise.all([rollTally(t.s), rollTally(t.s), add(8), add(9)])
    await agree()
    while ((await rollTally(t.s)) > 0);
    await agree()
    await t.s.db.write("UPDATE enrolment SET ended_at = ? WHERE sequence_id = ? LIMIT 2", [new Date(t.at()), sequence])
    await agree()
  })
})

describe("the list of funnels", () => {
  it("says what visitors get, and counts those who stopped at a checkout once each", async () => {
    const listed = await listFunnels(t.s.db)
    expect(listed.map((f) => [f.id, f.live])).toEqual([[school.funnel, school.release]])
    expect(await stoppedAt(t.s.db, school.funnel, { from: 0, to: t.at() })).toEqual({})
  })
})
