// Webinars: their dates as they are planned, moved and called off; seats under a rush; who was there, and what it came to.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { beatEvery, settledAfter } from "@/core/webinar/attendance"
import type { DateRule } from "@/core/webinar/rule"
import type { Webinar } from "@/core/webinar/webinar"
import { doWhatIsDue, housekeeping, nextDueInstant } from "@/server/due-list"
import { addOnOccasion } from "@/server/funnel/occasion"
import { makePerson } from "@/server/person/person"
import { usesOf } from "@/server/reference"
import { callOff, listDates, moveDate } from "@/server/webinar/dates"
import { heldFor, holdSeat, takeHeldSeat, takeSeat } from "@/server/webinar/seat"
import { beatOfSeat } from "@/server/webinar/stay"
import { listWebinars, newWebinarOf, readWebinar, removeWebinar, saveWebinar } from "@/server/webinar/webinar"
import { filmOf } from "../support/film"
import { openSchool, type TestSchool, testSchool, thatTuesday } from "../support/school"

let t: TestSchool
beforeAll(async () => {
  t = await testSchool("webinar", { start: thatTuesday })
  await openSchool(t)
  await t.s.db.write("UPDATE school SET zone = 'Europe/Oslo'")
})
afterAll(() => t.end())

const one = async (sql: string, values: unknown[] = []) =>
  Number(Object.values((await t.s.db.row<Record<string, unknown>>(sql, values)) ?? { n: -1 })[0])
const thursdays: DateRule = {
  unit: "week",
  every: 1,
  on: [4],
  nth: 1,
  at: 19 * 60,
  from: "2026-12-03",
  until: "2027-01-28",
  except: [{ from: "2026-12-24", to: "2026-12-31" }],
}

async function webinarWith(over: Partial<Webinar>): Promise<number> {
  const made = await newWebinarOf(t.s, "Why brine goes cloudy")
  if ("refused" in made) throw new Error(made.refused)
  const saved = await saveWebinar(t.s, made.id, over)
  if (!("value" in saved)) throw new Error(JSON.stringify(saved))
  return made.id
}
const dated = (over: Partial<Webinar> = {}, date = "2026-12-03") =>
  webinarWith({ when: { kind: "dates", dates: [{ date, at: 19 * 60 }] }, ...over })
const starts = async (id: number) =>
  (await listDates(t.s, id, "to-come")).map((d) => d.starts.toISOString().slice(0, 16))
const first = async (id: number) => (await listDates(t.s, id, "to-come"))[0]!.id
let n = 0
const person = () =>
  t.s.db.transaction(async (tx) => {
    const email = `w${++n}@s.example`
    const made = await makePerson(
      tx,
      { canonical: email, email, name: "W", zone: "UTC", source: "direct", confirmed: true },
      t.at(),
    )
    return made.person
  })
const take = async (date: number, who?: number) => {
  const id = who ?? (await person())
  return t.s.db.transaction((tx) => takeSeat(tx, date, id, t.at()))
}
const pending = () =>
  t.s.db
    .write(
      "INSERT INTO pending_join (canonical, email, name, zone, wording, ip, page, funnel_id, release_id, step_id, inbox_step_id, visitor, asked_at, expires_at) SELECT 'x', 'x@s.example', '', 'UTC', '', '', '/x', f.id, r.id, s.id, s.id, UNHEX(REPEAT('0', 32)), ?, ? FROM funnel f JOIN `release` r ON r.funnel_id = f.id JOIN step s ON s.funnel_id = f.id LIMIT 1",
      [new Date(t.at()), new Date(t.at() + 7 * 86_400_000)],
    )
    .then((r) => r.id)

describe("the dates", () => {
  it("are those of the rule, across the clock change and without what is left out, and follow when it is changed", async () => {
    const id = await webinarWith({ when: { kind: "rule", rule: thursdays } })
    expect(await starts(id)).toEqual([
      "2026-12-03T18:00",
      "2026-12-10T18:00",
      "2026-12-17T18:00",
      "2027-01-07T18:00",
      "2027-01-14T18:00",
      "2027-01-21T18:00",
      "2027-01-28T18:00",
    ])
    const taken = await first(id)
    await take(taken)
    await saveWebinar(t.s, id, { when: { kind: "rule", rule: { ...thursdays, on: [5], until: "2026-12-12" } } })
    // A seat is taken for the one of the old rule: it stays until it is called off.
    expect(await starts(id)).toEqual(["2026-12-03T18:00", "2026-12-04T18:00", "2026-12-11T18:00"])
    expect(await callOff(t.s, taken)).toEqual({ ok: true })
    expect((await listDates(t.s, id, "to-come"))[0]).toMatchObject({ calledOff: true, registered: 0 })
    expect(await one("SELECT COUNT(*) FROM fact WHERE kind = 'registration-called-off' AND subject_id = ?", [id])).toBe(
      1,
    )
    expect(await removeWebinar(t.s, id)).toHaveProperty("refused")
  })

  it("of a rule without end are written on as time goes by", async () => {
    const id = await webinarWith({ when: { kind: "rule", rule: { ...thursdays, until: null, except: [] } } })
    const before = await starts(id)
    expect(before.length).toBeGreaterThan(50)
    const was = t.at()
    t.set(was + 300 * 86_400_000)
    await housekeeping(t.s)
    expect((await starts(id)).at(-1)! > before.at(-1)!).toBe(true)
    t.set(was)
    expect(await removeWebinar(t.s, id)).toEqual({ ok: true })
  })

  it("are moved, not into the past or onto another; the rule doesn't bring the old time back", async () => {
    const id = await webinarWith({ when: { kind: "rule", rule: thursdays } })
    const [a] = await listDates(t.s, id, "to-come")
    expect(await moveDate(t.s, a!.id, { date: "2026-12-05", at: 10 * 60 })).toEqual({ ok: true })
    await saveWebinar(t.s, id, { minutes: 45 })
    expect((await starts(id)).slice(0, 2)).toEqual(["2026-12-05T09:00", "2026-12-10T18:00"])
    expect(await moveDate(t.s, a!.id, { date: "2026-12-10", at: 19 * 60 })).toMatchObject({ field: "date" })
    expect(await moveDate(t.s, a!.id, { date: "2026-01-10", at: 19 * 60 })).toMatchObject({ field: "date" })
    expect(await moveDate(t.s, a!.id, { date: "soon", at: 5 })).toHaveProperty("refused")
    expect(await moveDate(t.s, 99_999, { date: "2026-12-06", at: 5 })).toHaveProperty("refused")
    expect(await one("SELECT DISTINCT minutes FROM webinar_date WHERE webinar_id = ?", [id])).toBe(45)
  })

  it("are none for a rule that yields nothing; what can't be is refused with its field", async () => {
    const id = await webinarWith({ when: { kind: "rule", rule: { ...thursdays, until: "2026-12-02" } } })
    expect(await starts(id)).toEqual([])
    expect((await listWebinars(t.s)).find((w) => w.id === id)).toMatchObject({ next: null, behind: 0 })
    expect(await saveWebinar(t.s, id, { zone: "Moon/Base" })).toMatchObject({ field: "zone" })
    expect(await saveWebinar(t.s, id, { title: " " })).toMatchObject({ field: "title" })
    expect(await saveWebinar(t.s, id, { minutes: 0 })).toMatchObject({ field: "minutes" })
    expect(await saveWebinar(t.s, 99_999, { minutes: 30 })).toHaveProperty("refused")
    const offer = await t.s.db.write(
      "INSERT INTO offer (public_name, internal_name, promise, currency, made_at, changed_at) VALUES ('The Koji Tray', '', '', 'EUR', NOW(), NOW())",
    )
    await saveWebinar(t.s, id, { offer: offer.id })
    expect(await usesOf(t.s.db, "offer", offer.id)).toMatchObject([{ says: "the webinar “Why brine goes cloudy”" }])
    expect((await readWebinar(t.s.db, id))?.value.offer).toBe(offer.id)
  })
})

describe("seats", () => {
  it("are never more than there are, two hundred at once; the rest are told of the next date", async () => {
    const id = await webinarWith({ when: { kind: "rule", rule: thursdays }, seats: 50 })
    const [a, b] = await listDates(t.s, id, "to-come")
    const people = await Promise.all(Array.from({ length: 200 }, person))
    const seats = await Promise.all(people.map((p) => take(a!.id, p)))
    expect(seats.filter((x) => "registration" in x)).toHaveLength(50)
    for (const x of seats)
      if ("refused" in x) expect(x).toEqual({ refused: "full", next: { date: b!.id, starts: b!.starts.getTime() } })
    expect(await one("SELECT COUNT(*) FROM registration WHERE date_id = ? AND state = 'registered'", [a!.id])).toBe(50)
  })

  it("are moved with their person, who has one at a time; the same one twice is one", async () => {
    const id = await webinarWith({ when: { kind: "rule", rule: thursdays } })
    const [a, b] = await listDates(t.s, id, "to-come")
    const who = await person()
    const [x, y] = await Promise.all([take(a!.id, who), take(a!.id, who)])
    expect(x).toEqual(y)
    expect(await take(b!.id, who)).toMatchObject({ moved: true })
    expect((await listDates(t.s, id, "to-come")).slice(0, 2).map((d) => d.registered)).toEqual([0, 1])
    expect(await take(a!.id, who)).toMatchObject({ moved: true })
    expect((await listDates(t.s, id, "to-come")).slice(0, 2).map((d) => d.registered)).toEqual([1, 0])
  })

  it("are held for an hour for whoever has to press first, and then free for others", async () => {
    const id = await dated({ seats: 1 })
    const date = await first(id)
    const [p, q] = [await pending(), await pending()]
    expect(await t.s.db.transaction((tx) => holdSeat(tx, date, p, t.at()))).toHaveProperty("registration")
    expect(await t.s.db.transaction((tx) => holdSeat(tx, date, q, t.at()))).toEqual({ refused: "full", next: null })
    expect((await listDates(t.s, id, "to-come"))[0]).toMatchObject({ held: 1, registered: 0 })
    const was = t.at()
    t.set(was + heldFor)
    const late = await person()
    expect(await take(date)).toHaveProperty("registration")
    expect(await t.s.db.transaction((tx) => takeHeldSeat(tx, p, late, t.at()))).toMatchObject({ refused: "full" })
    t.set(was)
  })

  it("that were held are taken by the press, once", async () => {
    const date = await first(await dated({ seats: 1 }))
    const p = await pending()
    await t.s.db.transaction((tx) => holdSeat(tx, date, p, t.at()))
    const who = await person()
    const taken = await t.s.db.transaction((tx) => takeHeldSeat(tx, p, who, t.at()))
    expect(taken).toMatchObject({ date, moved: false })
    expect(await t.s.db.transaction((tx) => takeHeldSeat(tx, p, who, t.at()))).toEqual(taken)
    const other = await person()
    expect(await t.s.db.transaction((tx) => takeHeldSeat(tx, p, other, t.at()))).toEqual({ refused: "gone" })
    expect(await take(date)).toMatchObject({ refused: "full" })
  })

  it("can't be had for what has begun or is called off", async () => {
    const id = await dated()
    const date = await first(id)
    const was = t.at()
    t.set("2026-12-03T18:00:00Z")
    expect(await take(date)).toEqual({ refused: "gone" })
    t.set(was)
    await callOff(t.s, date)
    expect(await take(date)).toEqual({ refused: "gone" })
    expect(await take(99_999)).toEqual({ refused: "gone" })
  })
})

describe("who was there", () => {
  it("is worked out once the webinar is over, from beats, and sets off what hangs on it", async () => {
    const was = t.at()
    const id = await dated({ minutes: 60, attended: 75, missed: 5, recording: await filmOf(t.s) }, "2026-12-04")
    const date = await first(id)
    expect(await addOnOccasion(t.s, { occasion: "missed", of: id, kind: "tag-on", tag: "missed it" })).toEqual({
      ok: true,
    })
    const seats = await Promise.all(Array.from({ length: 4 }, () => take(date)))
    const [all, half, blink, never] = seats.map((x) => ("registration" in x ? x.registration : 0)) as [
      number,
      number,
      number,
      number,
    ]
    const start = Date.parse("2026-12-04T18:00:00Z")
    const device = (k: number) => Buffer.alloc(8, k)
    expect(await beatOfSeat(t.s, never, device(9))).toBe(false)
    for (let at = start - 60_000; at <= start + 3_600_000 + 60_000; at += beatEvery) {
      t.set(at)
      const m = (at - start) / 60_000
      await beatOfSeat(t.s, all, device(1))
      // On a phone as well, for a while.
      if (m > 10 && m < 20) await beatOfSeat(t.s, all, device(2))
      if (m <= 30 && !(m > 12 && m < 13)) await beatOfSeat(t.s, half, device(1))
      if (m > 30 && m < 33) await beatOfSeat(t.s, blink, device(1))
      if (m === 30) await doWhatIsDue(t.s, "w")
    }
    expect(await one("SELECT COUNT(*) FROM registration WHERE date_id = ? AND came IS NOT NULL", [date])).toBe(0)
    t.set(start - 120_000)
    expect(await nextDueInstant(t.s)).toBeLessThanOrEqual(start + 3_600_000 + settledAfter)
    t.set(start + 3_600_000 + settledAfter)
    await Promise.all([doWhatIsDue(t.s, "a"), doWhatIsDue(t.s, "b")])
    const came = await t.s.db.rows<{ id: number; came: string; there: number }>(
      "SELECT id, came, ROUND(there_ms / 1000) AS there FROM registration WHERE date_id = ? ORDER BY id",
      [date],
    )
    expect(came).toHaveLength(4)
    const of = (r: number) => came.find((c) => c.id === r)!
    expect([of(all), of(half), of(blink), of(never)].map((c) => [c.came, c.there])).toEqual([
      ["attended", 3600],
      ["left-early", 1800 - 75 + 15],
      ["missed", 150],
      ["missed", 0],
    ])
    expect(await one("SELECT COUNT(*) FROM fact WHERE kind = 'missed' AND subject_id = ?", [id])).toBe(2)
    expect(
      await one("SELECT COUNT(*) FROM person_tag p JOIN tag g ON g.id = p.tag_id WHERE g.name = 'missed it'"),
    ).toBe(2)
    // What is over stays as it is.
    expect(await beatOfSeat(t.s, blink, device(1))).toBe(false)
    expect((await listDates(t.s, id, "behind"))[0]).toMatchObject({ attended: 1, leftEarly: 1, missed: 2 })
    t.set(was)
  })
})
