// What must happen later: once, in order, again where it fails, and never twice.
import { afterAll, beforeAll, beforeEach, expect, it } from "vitest"
import { doWhatWaits, lateWork } from "@/server/due-list"
import { setTimer, type TimerKind, timers } from "@/server/timer"
import { readToday } from "@/server/today"
import { type TestSchool, testSchool } from "../support/school"

let t: TestSchool
beforeAll(async () => {
  t = await testSchool("timer")
})
afterAll(() => t.end())
beforeEach(() => t.s.db.write("DELETE FROM timer"))
const minute = 60_000

it("goes off once, when it is due, the earliest first", async () => {
  const gone: number[] = []
  const due = timers({ stopped: async (_, about) => void gone.push(about) })
  await setTimer(t.s.db, { kind: "stopped", about: 2, dueAt: t.at() + 2 * minute })
  await setTimer(t.s.db, { kind: "stopped", about: 1, dueAt: t.at() + minute })
  expect(await due.nextAt(t.s)).toBe(t.at() + minute)
  await due.run(t.s, "w")
  expect(gone).toEqual([])
  t.set(t.at() + 3 * minute)
  await Promise.all([due.run(t.s, "a"), due.run(t.s, "b")])
  expect([...gone].sort()).toEqual([1, 2])
  expect(await due.nextAt(t.s)).toBeNull()
})

it("is one for each thing: set again, it is put off", async () => {
  const due = timers({ stopped: async () => {} })
  await setTimer(t.s.db, { kind: "stopped", about: 1, dueAt: t.at() })
  await setTimer(t.s.db, { kind: "stopped", about: 1, dueAt: t.at() + minute })
  expect(await due.nextAt(t.s)).toBe(t.at() + minute)
})

it("may set itself again, and what it did while failing is taken back", async () => {
  let tries = 0
  const due = timers({
    stopped: async (tx, about, at) => {
      await setTimer(tx, { kind: "stopped", about: about + 1, dueAt: at + minute })
      if (++tries === 1) throw new Error("not yet")
    },
  })
  await setTimer(t.s.db, { kind: "stopped", about: 1, dueAt: t.at() })
  await due.run(t.s, "w")
  const rows = () => t.s.db.rows<{ about: number; tries: number }>("SELECT about, tries FROM timer ORDER BY about")
  expect(await rows()).toEqual([{ about: 1, tries: 1 }])
  // Another try waits a minute of real time, and nobody stands in front of the others meanwhile.
  expect(await due.nextAt(t.s)).toBeNull()
  await t.s.db.write("UPDATE timer SET try_at = '1970-01-01'")
  await due.run(t.s, "w")
  expect(await rows()).toEqual([{ about: 2, tries: 0 }])
})

it("is told when nobody does it", async () => {
  expect(await lateWork(t.s)).toEqual([])
  await setTimer(t.s.db, { kind: "stopped", about: 1, dueAt: t.at() - 6 * minute })
  expect(await lateWork(t.s)).toEqual(["timers"])
})

it("of a kind that only a newer version knows stays, holds nobody up, and is said on Today", async () => {
  await setTimer(t.s.db, { kind: "from-tomorrow" as TimerKind, about: 1, dueAt: t.at() - minute })
  const gone: number[] = []
  const due = timers({ stopped: async (_, about) => void gone.push(about) })
  await setTimer(t.s.db, { kind: "stopped", about: 7, dueAt: t.at() })
  await due.run(t.s, "w")
  expect(gone).toEqual([7])
  expect(await due.nextAt(t.s)).toBeNull()
  expect(await t.s.db.rows("SELECT kind FROM timer")).toEqual([{ kind: "from-tomorrow" }])
  expect((await readToday(t.s)).broken.map((b) => b.words)).toContain(
    "1 thing that was planned waits: a newer version of Swift Heron put it down. Start that one again.",
  )
})

it("is asked for with everything else by one statement, and is nothing where nothing is due", async () => {
  expect(await doWhatWaits(t.s, "w")).toBe(false)
  await setTimer(t.s.db, { kind: "stopped", about: 1, dueAt: t.at() + minute })
  const asked: string[] = []
  const row: typeof t.s.db.row = (sql, values) => {
    asked.push(sql)
    return t.s.db.row(sql, values)
  }
  const db = { ...t.s.db, row }
  expect(await doWhatWaits({ ...t.s, db }, "w")).toBe(false)
  expect(asked).toHaveLength(1)
  t.set(t.at() + minute)
  expect(await doWhatWaits(t.s, "w")).toBe(true)
  expect(await t.s.db.rows("SELECT 1 FROM timer")).toEqual([])
})
