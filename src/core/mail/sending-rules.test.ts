// Manners as laws over random limits, zones and histories (common practice: quiet hours, a cap on how often), with the clock there
// read by moment-timezone, which has tables of its own.
import fc from "fast-check"
import moment from "moment-timezone"
import { describe, expect, it } from "vitest"
import { decideAll, decideSending, noSendingRules, type SendingRules } from "./sending-rules"

const hour = 3_600_000
const day = 24 * hour
const zones = ["America/Lima", "Asia/Kathmandu", "Asia/Tokyo", "Africa/Nairobi", "America/Bogota", "Asia/Kolkata"]
const minute = fc.integer({ min: 0, max: 1439 })
const rules: fc.Arbitrary<SendingRules> = fc.record({
  hours: fc.option(fc.record({ from: minute, until: minute }).filter((h) => h.from !== h.until)),
  weekdays: fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1 }),
  perDay: fc.option(fc.integer({ min: 1, max: 3 })),
  perWeek: fc.option(fc.integer({ min: 1, max: 5 })),
  lateAfter: fc.constant(null),
})
const now = fc.integer({ min: Date.UTC(2026, 0, 1), max: Date.UTC(2027, 11, 1) })

const allowed = (m: SendingRules, at: number, zone: string) => {
  const t = moment.tz(at, zone)
  const clock = t.hour() * 60 + t.minute()
  const inHours =
    !m.hours ||
    (m.hours.from < m.hours.until
      ? clock >= m.hours.from && clock < m.hours.until
      : clock >= m.hours.from || clock < m.hours.until)
  return inHours && m.weekdays.includes(t.isoWeekday())
}
const dayOf = (at: number, zone: string) => moment.tz(at, zone).format("YYYY-MM-DD")

describe("what goes when", () => {
  it("goes at an allowed hour of an allowed day, and what is held says an instant at which it could go", () => {
    fc.assert(
      fc.property(rules, now, fc.constantFrom(...zones), (m, at, zone) => {
        const d = decideSending(m, at, at, zone, [])
        if (d.does === "send") expect(allowed(m, at, zone)).toBe(true)
        else {
          expect(allowed(m, at, zone)).toBe(false)
          expect(d.does === "hold" && allowed(m, d.until, zone)).toBe(true)
          expect(d.does === "hold" && decideSending(m, at, d.until, zone, [])).toEqual({ does: "send" })
        }
      }),
      { seed: 30, numRuns: 2000 },
    )
  })

  it("keeps the limits of a day and of seven days, whatever wants to go when", () => {
    fc.assert(
      fc.property(
        rules,
        now,
        fc.constantFrom(...zones),
        fc.array(fc.integer({ min: 0, max: 20 * 24 }), { minLength: 1, maxLength: 25 }),
        (m, begin, zone, hours) => {
          const sent: number[] = []
          const waiting = hours.map((h, id) => ({ id, due: begin + h * hour }))
          for (let turn = 0; turn < 2000 && waiting.length; turn++) {
            waiting.sort((a, b) => a.due - b.due || a.id - b.id)
            const next = waiting[0]!
            const d = decideSending(m, begin, next.due, zone, sent)
            if (d.does === "hold") {
              expect(d.until).toBeGreaterThan(next.due)
              next.due = d.until
            } else {
              sent.push(next.due)
              waiting.shift()
            }
          }
          expect(waiting).toEqual([])
          const days = sent.map((s) => dayOf(s, zone))
          for (const s of sent) {
            expect(allowed(m, s, zone)).toBe(true)
            if (m.perDay !== null) expect(days.filter((d) => d === dayOf(s, zone)).length).toBeLessThanOrEqual(m.perDay)
            const week = Array.from({ length: 7 }, (_, i) =>
              moment.tz(s, zone).subtract(i, "days").format("YYYY-MM-DD"),
            )
            if (m.perWeek !== null) expect(days.filter((d) => week.includes(d)).length).toBeLessThanOrEqual(m.perWeek)
          }
        },
      ),
      { seed: 31, numRuns: 300 },
    )
  })

  it("says what held it: night in Lima, then two a day were reached", () => {
    const m: SendingRules = { ...noSendingRules, hours: { from: 450, until: 1380 }, perDay: 2 }
    const at = Date.parse("2026-11-25T04:10:00Z") // 23:10 on Tuesday in Lima
    expect(decideSending(m, at, at, "America/Lima", [])).toEqual({
      does: "hold",
      until: Date.parse("2026-11-25T12:30:00Z"),
      holds: [{ from: at, until: Date.parse("2026-11-25T12:30:00Z"), why: "night" }],
    })
    const noon = Date.parse("2026-11-25T17:00:00Z")
    const two = [noon - hour, noon - 2 * hour]
    expect(decideSending(m, noon, noon, "America/Lima", two)).toMatchObject({
      does: "hold",
      until: Date.parse("2026-11-26T12:30:00Z"),
      holds: [{ why: "day-full" }, { why: "night" }],
    })
  })

  it("leaves out what waits too long, and nothing else", () => {
    const m: SendingRules = { ...noSendingRules, weekdays: [1], lateAfter: 24 }
    const tuesday = Date.UTC(2026, 10, 24, 9)
    expect(decideSending(m, tuesday, tuesday, "UTC", []).does).toBe("leave-out")
    expect(decideSending({ ...m, lateAfter: 24 * 7 }, tuesday, tuesday, "UTC", []).does).toBe("hold")
    expect(decideSending({ ...noSendingRules, lateAfter: 1 }, tuesday - day, tuesday, "UTC", []).does).toBe("leave-out")
  })

  it("lets those go first that go first, and the older before the younger", () => {
    const m: SendingRules = { ...noSendingRules, perDay: 1 }
    const at = Date.UTC(2026, 10, 24, 9)
    const waiting = [
      { id: 1, rank: "last", wanted: at - 5 },
      { id: 2, rank: "usual", wanted: at - 3 },
      { id: 3, rank: "usual", wanted: at - 4 },
    ] as const
    const went = (ws: typeof waiting | readonly { id: number; rank: "first"; wanted: number }[]) =>
      [...decideAll(m, ws, at, "UTC", [])].flatMap(([id, d]) => (d.does === "send" ? [id] : []))
    expect(went(waiting)).toEqual([3])
    expect([...decideAll(m, [...waiting, { id: 9, rank: "first", wanted: at }], at, "UTC", [])][0]).toEqual([
      9,
      { does: "send" },
    ])
    expect(went([])).toEqual([])
  })
})
