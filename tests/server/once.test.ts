// What a form makes is made once: against MariaDB, with presses at the same time, after a refusal, and after a failure.
import { afterAll, beforeAll, expect, it } from "vitest"
import { newBroadcast } from "@/server/broadcast/store"
import type { Context } from "@/server/context"
import { newCourse } from "@/server/course/course"
import { newFunnel } from "@/server/funnel/new-funnel"
import { insertStep } from "@/server/funnel/steps"
import { makeOnce, sweepMade } from "@/server/once"
import { newSegment } from "@/server/person/segment"
import type { Made, Refused } from "@/server/saved"
import { newSequence } from "@/server/sequence/edit"
import { planBeginning } from "@/server/sequence/planned"
import { askPoll } from "@/server/webinar/poll"
import { sayAsHost } from "@/server/webinar/talk"
import { newWebinarOf } from "@/server/webinar/webinar"
import { openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let course: number
beforeAll(async () => {
  t = await testSchool("once")
  course = (await openSchool(t)).course
})
afterAll(() => t.end())

const count = async (table: string) => (await t.s.db.row<{ n: number }>(`SELECT COUNT(*) AS n FROM ${table}`))!.n
const key = (n: number) => n.toString(16).padStart(32, "0")

it("shows what was made to whoever presses again, also at the same time", async () => {
  const before = await count("broadcast")
  const made = await Promise.all(Array.from({ length: 8 }, () => makeOnce(t.s, key(1), (s) => newBroadcast(s, "News"))))
  expect(new Set(made.map((m) => ("id" in m ? m.id : m.refused))).size).toBe(1)
  expect(await count("broadcast")).toBe(before + 1)
  expect(await makeOnce(t.s, key(1), (s) => newBroadcast(s, "News"))).toEqual(made[0])
  // Another key, another one.
  expect(await makeOnce(t.s, key(2), (s) => newBroadcast(s, "News"))).not.toEqual(made[0])
})

it("makes a whole funnel once", async () => {
  const before = await count("funnel")
  const press = () =>
    makeOnce(t.s, key(3), async (s) => {
      const made = await newFunnel(s, { goal: "mini-course", course })
      return "refused" in made ? made : { ok: true, id: made.funnel }
    })
  expect(await press()).toEqual(await press())
  expect(await count("funnel")).toBe(before + 1)
})

it("makes what stands in something else once: a step, a word in the room, a comment, a planned beginning", async () => {
  const { db } = t.s
  const at = new Date(t.at())
  const after = (await db.row<{ id: number }>("SELECT MIN(id) AS id FROM step"))!.id
  const webinar = await newWebinarOf(t.s, "Why brine goes cloudy")
  const sequence = await newSequence(t.s, "Follow-up")
  if ("refused" in webinar || "refused" in sequence) throw new Error()
  const date = (
    await db.write("INSERT INTO webinar_date (webinar_id, planned_at, starts_at, minutes) VALUES (?, ?, ?, 60)", [
      webinar.id,
      at,
      at,
    ])
  ).id
  const question = { match: "all", parts: [{ kind: "receives", is: false }] }
  const making: [string, (s: Context) => Promise<Made | Refused>][] = [
    ["step", (s) => insertStep(s, { after, outcome: "joined", kind: "letter" })],
    ["room_message", (s) => sayAsHost(s, date, "Welcome")],
    ["poll", (s) => askPoll(s, date, { question: "Salt?", answers: ["2 %", "3 %"] })],
    ["planned_beginning", (s) => planBeginning(s, { sequence: sequence.id, question, date: "2040-01-01", at: 450 })],
  ]
  for (const [i, [table, make]] of making.entries()) {
    const before = await count(table)
    const [one, two] = [await makeOnce(t.s, key(20 + i), make), await makeOnce(t.s, key(20 + i), make)]
    expect([table, one, two]).toEqual([table, expect.objectContaining({ ok: true }), one])
    expect([table, await count(table)]).toEqual([table, before + 1])
  }
})

it("lets what was refused, or failed, be tried again under the same key", async () => {
  expect(await makeOnce(t.s, key(4), (s) => newSegment(s, ""))).toHaveProperty("refused")
  expect(await makeOnce(t.s, key(4), (s) => newSegment(s, "Keen"))).toMatchObject({ ok: true })
  const failed = makeOnce(t.s, key(5), async (s) => {
    await newCourse(s, "Half made")
    throw new Error("the connection is gone")
  })
  await expect(failed).rejects.toThrow("gone")
  expect(await t.s.db.row("SELECT id FROM course WHERE title = 'Half made'")).toBeUndefined()
  expect(await makeOnce(t.s, key(5), (s) => newCourse(s, "Whole"))).toMatchObject({ ok: true })
})

it("without a key, or with one that isn't ours, simply makes it", async () => {
  for (const none of [undefined, "", "'; DROP TABLE made", "g".repeat(32), 7])
    expect(await makeOnce(t.s, none, (s) => newBroadcast(s, "Plain"))).toMatchObject({ ok: true })
  await t.s.db.write("UPDATE made SET at = '2020-01-01' WHERE once = ?", [Buffer.from(key(1), "hex")])
  await sweepMade(t.s)
  expect(await t.s.db.row("SELECT 1 FROM made WHERE once = ?", [Buffer.from(key(1), "hex")])).toBeUndefined()
  expect(await t.s.db.row("SELECT 1 FROM made WHERE once = ?", [Buffer.from(key(2), "hex")])).toBeDefined()
})
