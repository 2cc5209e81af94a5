// Segments of one person and of somebody nobody knows, and their words: worked examples (common practice). That the SQL finds the
// same people as the plain filter is checked against MariaDB in tests/server/segment.test.ts.

import * as v from "valibot"
import { describe, expect, it } from "vitest"
import { isIn, type Known } from "../../../../tests/support/segment-holds"
import type { Comparison } from "./field"
import { type Condition, conditionKinds } from "./list"
import {
  everybody,
  isStrangerIn,
  refsOfSegment,
  type Segment,
  segmentSays,
  segmentSchema,
  segmentsIn,
  sqlOf,
} from "./segment"

const day = 86_400_000
const now = Date.parse("2026-11-25T12:00:00Z")
const ana: Known = {
  joinedAt: now - 10 * day,
  source: "garden letter",
  zone: "Europe/Oslo",
  tags: new Set([1]),
  fields: new Map([
    [40, "sauerkraut"],
    [41, "12.5"],
    [42, "1984-03-09"],
    [43, "7"],
  ]),
  courses: new Set([10]),
  waits: new Set<number>(),
  lessons: new Map([[10, { of: 5, done: 2 }]]),
  done: new Set([100, 101]),
  looked: new Set([100, 101, 102]),
  segments: new Set([70]),
  bought: [{ offer: 20, at: now - 40 * day, how: "instalments", coupon: "GARDEN" }],
  paid: [
    { currency: "EUR", amount: 8_900, at: now - 40 * day },
    { currency: "EUR", amount: 6_000, at: now - 10 * day },
    { currency: "NOK", amount: 99_900, at: now - 10 * day },
  ],
  got: [
    { sequence: 30, at: now - 6 * day },
    { sequence: null, at: now - 2 * day },
  ],
  visited: [{ step: 60, at: now - 12 * day }],
  surveys: [{ lesson: 100, block: "b1", answers: { q1: [0, 2], q2: 4, q3: "words" } }],
  plans: [{ offer: 20, state: "behind" }],
  lastHere: now - 3 * day,
  opened: [{ sequence: 30, at: now - 5 * day }],
  clicked: [now - 2 * day],
  receives: true,
  affiliate: true,
}
const all = (...parts: Segment["parts"]): Segment => ({ match: "all", parts })
const any = (...parts: Segment["parts"]): Segment => ({ match: "any", parts })

const q = (question: string, answer: number | null) => ({
  lesson: 100,
  block: "b1",
  question,
  answer,
  asks: "How?",
  says: "So",
})
const answer = (field: number, how: Comparison, value: string, has = true): Condition => ({
  kind: "field",
  field,
  how,
  value,
  choice: false,
  has,
})

describe("a condition", () => {
  it.each<[Condition, boolean, boolean]>([
    [{ kind: "tag", tag: 1, has: true }, true, false],
    [{ kind: "tag", tag: 2, has: false }, true, true],
    [{ kind: "joined", within: true, days: 10 }, true, false],
    [{ kind: "joined", within: true, days: 9 }, false, false],
    [{ kind: "joined", within: false, days: 9 }, true, false],
    [{ kind: "source", source: "garden letter", is: true }, true, false],
    [{ kind: "source", source: "direct", is: false }, true, true],
    [{ kind: "course", course: 10, has: true }, true, false],
    [{ kind: "course", course: 11, has: false }, true, true],
    [{ kind: "progress", course: 10, from: 40, to: 40 }, true, false],
    [{ kind: "progress", course: 10, from: 41, to: 100 }, false, false],
    [{ kind: "progress", course: 11, from: 0, to: 100 }, false, false],
    [{ kind: "lesson", lesson: 101, has: true }, true, false],
    [{ kind: "lesson", lesson: 102, has: true }, false, false],
    [{ kind: "lesson", lesson: 102, has: true, opened: true }, true, false],
    [{ kind: "lesson", lesson: 103, has: false, opened: true }, true, true],
    [{ kind: "segment", segment: 70, is: true }, true, false],
    [{ kind: "segment", segment: 71, is: false }, true, true],
    [{ kind: "bought", offer: 20, has: true, days: null }, true, false],
    [{ kind: "bought", offer: null, has: true, days: 39 }, false, false],
    [{ kind: "bought", offer: null, has: false, days: 39 }, true, true],
    [{ kind: "bought", offer: 20, has: true, days: null, how: "instalments" }, true, false],
    [{ kind: "bought", offer: 20, has: true, days: null, how: "once" }, false, false],
    [{ kind: "bought", offer: null, has: true, days: null, coupon: "garden" }, true, false],
    [{ kind: "bought", offer: null, has: false, days: null, coupon: "BALCONY" }, true, true],
    [{ kind: "spent", least: 14_900, currency: "EUR", has: true, days: null }, true, false],
    [{ kind: "spent", least: 14_901, currency: "EUR", has: true, days: null }, false, false],
    [{ kind: "spent", least: 6_001, currency: "EUR", has: false, days: 39 }, true, true],
    [{ kind: "survey", ...q("q1", 2), has: true }, true, false],
    [{ kind: "survey", ...q("q1", 1), has: true }, false, false],
    [{ kind: "survey", ...q("q2", 4), has: true }, true, false],
    [{ kind: "survey", ...q("q3", null), has: true }, true, false],
    [{ kind: "survey", ...q("q9", null), has: false }, true, true],
    [{ kind: "visited", step: 60, has: true, days: 12 }, true, false],
    [{ kind: "visited", step: 60, has: true, days: 11 }, false, false],
    [{ kind: "got", sequence: 30, has: true, days: null }, true, false],
    [{ kind: "got", sequence: 30, has: true, days: 5 }, false, false],
    [{ kind: "got", sequence: null, has: false, days: 1 }, true, true],
    // He joined on 15 November at 12:00 UTC, which is the 16th in Kiritimati.
    [{ kind: "joined-between", from: "2026-11-15", to: "2026-11-15", zone: "UTC" }, true, false],
    [{ kind: "joined-between", from: "2026-11-16", to: null, zone: "UTC" }, false, false],
    [{ kind: "joined-between", from: "2026-11-16", to: "2026-11-16", zone: "Pacific/Kiritimati" }, true, false],
    [{ kind: "joined-between", from: null, to: "2026-11-14", zone: "UTC" }, false, false],
    [{ kind: "plan", offer: null, state: "behind", has: true }, true, false],
    [{ kind: "plan", offer: 21, state: "behind", has: true }, false, false],
    [{ kind: "here", has: true, days: 3 }, true, false],
    [{ kind: "here", has: false, days: 2 }, true, true],
    [{ kind: "clicked", has: true, days: 1 }, false, false],
    [{ kind: "opened", sequence: null, has: true, days: null }, true, false],
    [{ kind: "opened", sequence: 30, has: true, days: 5 }, true, false],
    [{ kind: "opened", sequence: 30, has: true, days: 4 }, false, false],
    [{ kind: "opened", sequence: 31, has: false, days: null }, true, true],
    [answer(40, "is", "Sauerkraut"), true, false],
    [answer(40, "contains", "KRAUT"), true, false],
    [answer(40, "known", "", false), false, true],
    [answer(41, "from", "12,5"), true, false],
    [answer(41, "from", "12.6"), false, false],
    [answer(41, "to", "100"), true, false],
    [answer(42, "before", "1984-03-10"), true, false],
    [answer(42, "after", "1984-03-09"), false, false],
    [answer(42, "after", "1984-03-08"), true, false],
    [answer(43, "is", "7"), true, false],
    [answer(44, "is", "7", false), true, true],
    [{ kind: "zone", zone: "Europe/Oslo", is: true }, true, false],
    [{ kind: "zone", zone: "Europe/Rome", is: false }, true, true],
    [{ kind: "receives", is: true }, true, false],
    [{ kind: "affiliate", is: true }, true, false],
    [{ kind: "affiliate", is: false }, false, true],
    [{ kind: "signed-in", is: true }, true, false],
  ])("%j is so of a learner: %s, of a stranger: %s", (c, learner, nobody) => {
    expect(isIn(all(c), ana, now)).toBe(learner)
    expect(isStrangerIn(all(c))).toBe(nobody)
  })
})

describe("a segment", () => {
  const yes: Condition = { kind: "tag", tag: 1, has: true }
  const no: Condition = { kind: "tag", tag: 9, has: true }

  it.each<[Segment, boolean]>([
    [everybody, true],
    [any(), true],
    [all(yes, no), false],
    [any(yes, no), true],
    [all(yes, { match: "any", not: false, parts: [no, yes] }), true],
    [all(yes, { match: "any", not: true, parts: [no, yes] }), false],
    [all({ match: "all", not: true, parts: [yes, no] }), true],
    // An empty group asks for nothing, turned round or not.
    [any(no, { match: "all", not: true, parts: [] }), false],
    [any({ match: "all", not: true, parts: [] }), true],
  ])("%j holds: %s", (s, holds) => {
    expect(isIn(s, ana, now)).toBe(holds)
  })

  it("says itself in words, with groups in brackets, and names what is gone", () => {
    const name = (_: string, id: number) => (id === 1 ? "keen" : null)
    expect(segmentSays(everybody, name)).toBe("")
    expect(
      segmentSays(
        all({ kind: "joined", within: true, days: 30 }, { kind: "bought", offer: null, has: false, days: null }),
        name,
      ),
    ).toBe("joined in the last 30 days and have not bought anything")
    expect(
      segmentSays(any(yes, { match: "all", not: false, parts: [no, { kind: "here", has: true, days: 1 }] }), name),
    ).toBe(
      "have the tag “keen” or (have the tag something that is no longer there and have looked at a lesson in the last day)",
    )
    expect(segmentSays(all({ match: "any", not: true, parts: [yes] }), name)).toBe("not (have the tag “keen”)")
  })

  it("has a value for each place in its SQL, whatever it asks", () => {
    const every = Object.values(conditionKinds)
    expect(every.length).toBeGreaterThan(10)
    const { sql, values } = sqlOf(
      any(yes, { match: "any", not: true, parts: [no, { kind: "receives", is: false }] }),
      now,
    )
    expect(sql.match(/\?/g)).toHaveLength(values.length)
    expect(refsOfSegment(any(yes, { match: "any", not: true, parts: [no] })).map((r) => r.id)).toEqual([1, 9])
  })

  it("asks a segment by its name as it is now, and nobody is in one that is gone or asks for itself", () => {
    const asks = all({ kind: "segment", segment: 1, is: true })
    expect(sqlOf(asks, now, new Map([[1, all(yes)]])).values).toEqual([1])
    expect(sqlOf(asks, now, new Map([[1, asks]])).sql).toBe("(((FALSE)))".slice(1, -1))
    expect(sqlOf(asks, now).sql).toBe("(FALSE)")
    expect(
      segmentsIn(any(yes, { match: "all", not: false, parts: [{ kind: "segment", segment: 5, is: false }] })),
    ).toEqual([5])
  })

  it.each([
    { match: "some", parts: [] },
    { match: "all", parts: [{ kind: "tag", tag: "1 OR 1=1", has: true }] },
    { match: "all", parts: [{ kind: "joined", within: true, days: 0 }] },
    { match: "all", parts: [{ kind: "sql", sql: "1" }] },
    { match: "all", parts: [{ match: "all", not: false, parts: [{ match: "all", not: false, parts: [] }] }] },
    { match: "all", parts: Array.from({ length: 21 }, () => ({ kind: "receives", is: true })) },
  ])("is not %j", (bad) => {
    expect(v.is(segmentSchema, bad)).toBe(false)
  })
})
