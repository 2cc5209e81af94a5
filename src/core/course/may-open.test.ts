import fc from "fast-check"
import moment from "moment-timezone"
import { describe, expect, it } from "vitest"
import { type Asking, type MayOpen, mayOpen, noProgress } from "./may-open"
import { atOnce, daysAfter, instantOf, type Opens } from "./opens"
import { type CoursePlan, neverOpens, onlyAdds, type PlanLesson } from "./plan"
import { afterJoining, openingWords } from "./words"

const day = 86_400_000
const now = Date.parse("2026-11-25T12:00:00Z")

const lesson = (id: number, more: Partial<PlanLesson> = {}): PlanLesson => ({
  id,
  module: null,
  opens: null,
  free: false,
  required: true,
  ...more,
})
const plan = (lessons: PlanLesson[], more: Partial<CoursePlan> = {}): CoursePlan => ({
  opens: atOnce,
  starts: null,
  inOrder: false,
  modules: [
    { id: 1, opens: null },
    { id: 2, opens: null },
  ],
  lessons,
  ...more,
})
const course = (from: number, until: number | null = null) => ({ module: null, from, until })
const asking = (p: CoursePlan, more: Partial<Asking> = {}): Asking => ({
  known: true,
  admissions: [course(now - 10 * day)],
  plans: [{ from: 0, plan: p }],
  openToAll: false,
  progress: noProgress,
  zone: "Europe/Zagreb",
  at: now,
  ...more,
})

describe("what may be opened", () => {
  const first = plan([lesson(1), lesson(2, { free: true })])
  const waits = (opens: Opens, more: Partial<CoursePlan> = {}) => plan([lesson(1), lesson(2, { opens })], more)
  const done = (...ids: number[]) => ({ seen: new Map(), done: new Map(ids.map((id) => [id, now - day])) })
  const seen = (...ids: number[]) => ({ seen: new Map(ids.map((id) => [id, now - day])), done: new Map() })

  // The decision table (ours): who asks, for what, under which plan, and what they are told.
  const table: [string, Asking, number, MayOpen][] = [
    ["an admission", asking(first), 1, { open: true, by: "admission" }],
    ["a taste, signed in or not", asking(first, { known: false, admissions: [] }), 2, { open: true, by: "taste" }],
    ["nobody signed in", asking(first, { known: false, admissions: [] }), 1, { open: false, why: "stranger" }],
    ["no admission", asking(first, { admissions: [] }), 1, { open: false, why: "outside" }],
    ["open to all", asking(first, { known: false, admissions: [], openToAll: true }), 1, { open: true, by: "all" }],
    ["no such lesson", asking(first), 9, { open: false, why: "gone" }],
    ["no plan at all", asking(first, { plans: [] }), 1, { open: false, why: "gone" }],
    [
      "over, since the last one ended",
      asking(first, { admissions: [course(0, now - 5 * day), course(0, now - day)] }),
      1,
      { open: false, why: "ended", at: now - day },
    ],
    [
      "it begins later",
      asking(first, { admissions: [course(now + day)] }),
      1,
      { open: false, why: "not-yet", at: now + day, because: { kind: "admission" } },
    ],
    [
      "one that is over and one that runs",
      asking(first, { admissions: [course(0, now - day), course(now - 1)] }),
      1,
      { open: true, by: "admission" },
    ],
    [
      "another module only",
      asking(plan([lesson(1, { module: 1 })]), { admissions: [{ module: 2, from: 0, until: null }] }),
      1,
      { open: false, why: "outside" },
    ],
    [
      "its module only",
      asking(plan([lesson(1, { module: 2 })]), { admissions: [{ module: 2, from: 0, until: null }] }),
      1,
      { open: true, by: "admission" },
    ],
    [
      "days after, passed",
      asking(waits({ kind: "after-days", days: 9, at: null })),
      2,
      { open: true, by: "admission" },
    ],
    [
      "days after, to come, at an hour of theirs",
      asking(waits({ kind: "after-days", days: 14, at: "06:00" })),
      2,
      {
        open: false,
        why: "not-yet",
        at: Date.parse("2026-11-29T05:00:00Z"),
        because: { kind: "days", days: 14 },
      },
    ],
    [
      "on a date",
      asking(waits({ kind: "on-date", date: "2026-12-24", at: "18:00" })),
      2,
      { open: false, why: "not-yet", at: Date.parse("2026-12-24T17:00:00Z"), because: { kind: "date" } },
    ],
    [
      "after a lesson, not done",
      asking(waits({ kind: "after-lesson", lesson: 1 })),
      2,
      { open: false, why: "not-yet", at: null, because: { kind: "lesson", lesson: 1 } },
    ],
    [
      "after a lesson, done",
      asking(waits({ kind: "after-lesson", lesson: 1 }), { progress: done(1) }),
      2,
      { open: true, by: "admission" },
    ],
    [
      "after a lesson that is gone",
      asking(waits({ kind: "after-lesson", lesson: 7 })),
      2,
      { open: true, by: "admission" },
    ],
    [
      "in order, what is required before it is not done",
      asking(plan([lesson(1), lesson(2)], { inOrder: true })),
      2,
      { open: false, why: "not-yet", at: null, because: { kind: "lesson", lesson: 1 } },
    ],
    [
      "in order, what is before it is not required",
      asking(plan([lesson(1, { required: false }), lesson(2)], { inOrder: true })),
      2,
      { open: true, by: "admission" },
    ],
    [
      "in order, done",
      asking(plan([lesson(1), lesson(2)], { inOrder: true }), { progress: done(1) }),
      2,
      { open: true, by: "admission" },
    ],
    [
      "in order, of a module whose lessons before belong to another",
      asking(plan([lesson(1, { module: 1 }), lesson(2, { module: 2 })], { inOrder: true }), {
        admissions: [{ module: 2, from: 0, until: null }],
      }),
      2,
      { open: true, by: "admission" },
    ],
    [
      "the course hasn't begun",
      asking(plan([lesson(1)], { starts: "2026-12-01" })),
      1,
      { open: false, why: "not-yet", at: Date.parse("2026-11-30T23:00:00Z"), because: { kind: "starts" } },
    ],
    [
      "looked at before, though it waits now",
      asking(waits({ kind: "after-days", days: 99, at: null }), { progress: seen(2) }),
      2,
      { open: true, by: "admission" },
    ],
    [
      "looked at before, and the admission is over",
      asking(first, { admissions: [course(0, now - day)], progress: seen(1) }),
      1,
      { open: false, why: "ended", at: now - day },
    ],
    [
      "open by a plan that was in force then",
      asking(waits({ kind: "after-days", days: 99, at: null }), {
        plans: [
          { from: 0, plan: first },
          {
            from: now - day,
            plan: plan([lesson(1), lesson(2, { opens: { kind: "after-days", days: 99, at: null } })]),
          },
        ],
      }),
      2,
      { open: true, by: "admission" },
    ],
    [
      "let in after the plan that would have opened it",
      asking(first, {
        admissions: [course(now - day)],
        plans: [
          { from: 0, plan: first },
          { from: now - 2 * day, plan: plan([lesson(1, { opens: { kind: "after-days", days: 9, at: null } })]) },
        ],
      }),
      1,
      { open: false, why: "not-yet", at: now + 8 * day, because: { kind: "days", days: 9 } },
    ],
    [
      "the module's rule, and the lesson's over it",
      asking(
        plan([lesson(1, { module: 1, opens: atOnce })], {
          modules: [{ id: 1, opens: { kind: "on-date", date: "2030-01-01", at: "00:00" } }],
        }),
      ),
      1,
      { open: true, by: "admission" },
    ],
    [
      "a trial that was over before it opened gives nothing to the next",
      asking(waits({ kind: "after-days", days: 30, at: null }), {
        admissions: [course(now - 90 * day, now - 85 * day), course(now - day)],
      }),
      2,
      { open: false, why: "not-yet", at: now + 29 * day, because: { kind: "days", days: 30 } },
    ],
  ]
  it("counts one that is over only with what it opened under a plan that was in force then", () => {
    const ended = { module: 2, from: now - 9 * day, until: now - 2 * day }
    const later = plan([lesson(1), lesson(2, { module: 2, opens: { kind: "after-lesson", lesson: 1 } })])
    const a = (from: number) =>
      asking(later, {
        admissions: [course(now - 9 * day), ended],
        plans: [
          {
            from: 0,
            plan: plan([
              lesson(1),
              lesson(2, { module: 2, opens: { kind: "on-date", date: "2030-01-01", at: "06:00" } }),
            ]),
          },
          { from, plan: later },
        ],
      })
    // Of module 2 alone, the lesson before it holds nobody up; the plan that says so came while that ran, or after.
    expect(mayOpen(a(now - 3 * day), 2).open).toBe(true)
    expect(mayOpen(a(now - 2 * day), 2).open).toBe(false)
  })

  it.each(table)("%s", (_, a, id, answer) => expect(mayOpen(a, id)).toEqual(answer))

  const arbOpens: fc.Arbitrary<Opens> = fc.oneof(
    fc.constant(atOnce),
    fc.record({ kind: fc.constant("after-days" as const), days: fc.nat(20), at: fc.constantFrom(null, "06:00") }),
    fc.record({
      kind: fc.constant("on-date" as const),
      date: fc.constantFrom("2026-11-20", "2026-12-02"),
      at: fc.constant("09:00"),
    }),
    fc.record({ kind: fc.constant("after-lesson" as const), lesson: fc.integer({ min: 1, max: 5 }) }),
  )
  const arbPlan = fc.record({
    opens: arbOpens,
    starts: fc.constantFrom(null, null, "2026-11-26"),
    inOrder: fc.boolean(),
    modules: fc.tuple(
      fc.record({ id: fc.constant(1), opens: fc.option(arbOpens) }),
      fc.record({ id: fc.constant(2), opens: fc.option(arbOpens) }),
    ),
    lessons: fc.tuple(
      ...[1, 2, 3, 4].map((id) =>
        fc.record({
          id: fc.constant(id),
          module: fc.constantFrom(null, 1, 2),
          opens: fc.option(arbOpens),
          free: fc.boolean(),
          required: fc.boolean(),
        }),
      ),
    ),
  })
  const instant = fc.integer({ min: now - 30 * day, max: now + 5 * day })
  const arbAdmission = fc
    .record({
      module: fc.constantFrom(null, 1, 2),
      from: instant,
      long: fc.option(fc.integer({ min: 1, max: 20 * day })),
    })
    .map(({ module, from, long }) => ({ module, from, until: long === null ? null : from + long }))
  const marks = fc.array(fc.tuple(fc.integer({ min: 1, max: 4 }), instant)).map((m) => new Map(m))
  const arbAsking: fc.Arbitrary<Asking> = fc.record({
    known: fc.boolean(),
    admissions: fc.array(arbAdmission, { maxLength: 3 }),
    plans: fc
      .array(fc.tuple(instant, arbPlan), { minLength: 1, maxLength: 3 })
      .map((all) => all.sort((a, b) => a[0] - b[0]).map(([from, p]) => ({ from, plan: p }))),
    openToAll: fc.boolean(),
    progress: fc.record({ seen: marks, done: marks }),
    zone: fc.constantFrom("Europe/Zagreb", "Pacific/Apia", "America/New_York"),
    at: instant,
  })
  const openOf = (a: Asking) => [1, 2, 3, 4].filter((id) => mayOpen(a, id).open)
  const runs = { numRuns: 2000 }

  it("shows no less with one admission more", () =>
    fc.assert(
      fc.property(arbAsking, arbAdmission, (a, more) => {
        expect(openOf({ ...a, admissions: [...a.admissions, more] })).toEqual(expect.arrayContaining(openOf(a)))
      }),
      runs,
    ))

  it("closes nothing by time alone where no admission has an end", () =>
    fc.assert(
      fc.property(arbAsking, fc.nat(40 * day), (a, later) => {
        const endless = { ...a, admissions: a.admissions.map((x) => ({ ...x, until: null })) }
        expect(openOf({ ...endless, at: endless.at + later })).toEqual(expect.arrayContaining(openOf(endless)))
      }),
      runs,
    ))

  it("takes nothing back when the plan changes, as long as the lesson is there", () =>
    fc.assert(
      fc.property(arbAsking, arbPlan, fc.nat(9 * day), (a, p, later) => {
        // What was free to everybody was nobody's: only what an admission had opened stays.
        const had = openOf(a).filter((id) => {
          const by = mayOpen(a, id)
          return by.open && by.by === "admission"
        })
        const change = a.at + 1
        const kept = {
          ...p,
          lessons: p.lessons.map((l, i) => ({ ...l, module: a.plans.at(-1)!.plan.lessons[i]!.module })),
        }
        const after = {
          ...a,
          admissions: a.admissions.map((x) => ({ ...x, until: x.until !== null && x.until > a.at ? null : x.until })),
          plans: [...a.plans, { from: change, plan: kept as CoursePlan }],
          at: change + later,
        }
        fc.pre(a.plans.every((v) => v.from <= a.at))
        expect(openOf(after)).toEqual(expect.arrayContaining(had))
      }),
      runs,
    ))

  // The rule written anew, over time: was there an instant at which it was open? Each instant at which anything can change is
  // looked at by itself, and nothing of the module under test is used.
  const openAt = (a: Asking, id: number, b: Asking["admissions"][number], t: number): boolean => {
    const inForce = a.plans.filter((v, i) => i === 0 || v.from <= t).at(-1)!.plan
    const l = inForce.lessons.find((x) => x.id === id)!
    if (b.from > t || (b.until !== null && b.until <= t)) return false
    if (b.module !== null && b.module !== l.module) return false
    const doneBy = (n: number) => {
      const other = inForce.lessons.find((x) => x.id === n)
      const theirs = other && (b.module === null || b.module === other.module || other.free)
      return !theirs || (a.progress.done.get(n) ?? Number.POSITIVE_INFINITY) <= t
    }
    const rule = l.opens ?? inForce.modules.find((m) => m.id === l.module)?.opens ?? inForce.opens
    const ruled =
      rule.kind === "at-once" ||
      (rule.kind === "after-days" && daysAfter(b.from, rule.days, rule.at, a.zone) <= t) ||
      (rule.kind === "on-date" && instantOf(rule.date, rule.at, a.zone) <= t) ||
      (rule.kind === "after-lesson" && doneBy(rule.lesson))
    if (!ruled || (inForce.starts !== null && instantOf(inForce.starts, "00:00", a.zone) > t)) return false
    const before = inForce.lessons.slice(0, inForce.lessons.indexOf(l))
    return !inForce.inOrder || before.every((x) => !x.required || doneBy(x.id))
  }
  const instantsOf = (a: Asking) => {
    const rules = a.plans.flatMap(({ plan: p }) => [
      p.opens,
      ...p.modules.map((m) => m.opens),
      ...p.lessons.map((l) => l.opens),
    ])
    const days = rules.flatMap((r) =>
      r?.kind === "on-date"
        ? [instantOf(r.date, r.at, a.zone)]
        : r?.kind === "after-days"
          ? a.admissions.map((x) => daysAfter(x.from, r.days, r.at, a.zone))
          : [],
    )
    const starts = a.plans.flatMap(({ plan: p }) => (p.starts ? [instantOf(p.starts, "00:00", a.zone)] : []))
    const all = [
      a.at,
      ...a.plans.map((v) => v.from),
      ...a.admissions.map((x) => x.from),
      ...a.progress.done.values(),
      ...days,
      ...starts,
    ]
    return all.filter((t) => t <= a.at)
  }
  const reference = (a: Asking, id: number): boolean => {
    const now = a.plans.at(-1)!.plan.lessons.find((x) => x.id === id)!
    if (a.openToAll || now.free) return true
    const times = instantsOf(a)
    const had = a.admissions.filter((b) => times.some((t) => openAt(a, id, b, t)))
    const seen = (a.progress.seen.get(id) ?? Number.POSITIVE_INFINITY) <= a.at
    const when = a.progress.seen.get(id) ?? 0
    const then = a.plans
      .filter((v, i) => i === 0 || v.from <= when)
      .at(-1)!
      .plan.lessons.find((x) => x.id === id)!
    const ran = (b: Asking["admissions"][number], t: number) => b.from <= t && (b.until === null || b.until > t)
    const isTo = (b: Asking["admissions"][number]) =>
      b.module === null || b.module === now.module || (seen && ran(b, when) && b.module === then.module)
    const theirs = a.admissions.filter((b) => ran(b, a.at) && (had.includes(b) || isTo(b)))
    const seenBy = a.admissions.some(isTo)
    return theirs.length > 0 && (had.length > 0 || (seen && seenBy))
  }

  it("is what the rule says when it is written anew over time: 40,000 situations", () => {
    let compared = 0
    fc.assert(
      fc.property(arbAsking, (a) => {
        fc.pre(a.plans.every((v) => v.from <= a.at))
        for (const id of [1, 2, 3, 4]) {
          expect(mayOpen(a, id).open, `lesson ${id}`).toBe(reference(a, id))
          compared++
        }
      }),
      { numRuns: 10_000 },
    )
    expect(compared).toBe(40_000)
  })

  it("names a day only on which it will be open, for this person", () => {
    let named = 0
    fc.assert(
      fc.property(arbAsking, (any) => {
        fc.pre(any.plans.every((v) => v.from <= any.at))
        // What they will do isn't known yet.
        const past = (of: ReadonlyMap<number, number>) => new Map([...of].filter(([, t]) => t <= any.at))
        const a = { ...any, progress: { seen: past(any.progress.seen), done: past(any.progress.done) } }
        for (const id of [1, 2, 3, 4]) {
          const may = mayOpen(a, id)
          if (may.open || may.why !== "not-yet" || may.at === null) continue
          named++
          expect(may.at).toBeGreaterThan(a.at)
          expect(mayOpen({ ...a, at: may.at }, id).open).toBe(true)
          // And not before that, as far as time alone goes.
          expect(mayOpen({ ...a, at: may.at - 1 }, id).open).toBe(false)
        }
      }),
      { numRuns: 10_000 },
    )
    expect(named).toBeGreaterThan(1_000)
  })

  it("that has moved to another module stays open to whom it was, and comes to nobody to whom it wasn't", () => {
    const was = plan([lesson(1, { module: 1 })])
    const is = plan([lesson(1, { module: 2 })])
    const moved = (module: number) =>
      mayOpen(
        asking(is, {
          admissions: [{ module, from: now - 9 * day, until: null }],
          plans: [
            { from: 0, plan: was },
            { from: now - day, plan: { ...is, opens: { kind: "after-days", days: 99, at: null } } },
          ],
        }),
        1,
      )
    expect(moved(1)).toEqual({ open: true, by: "admission" })
    expect(moved(2).open).toBe(false)
  })

  it("says that access ends before it opens", () => {
    const a = asking(waits({ kind: "after-days", days: 30, at: null }), {
      admissions: [course(now - 10 * day, now + 5 * day)],
    })
    expect(mayOpen(a, 2)).toEqual({ open: false, why: "too-late", at: now + 5 * day })
    // One that is still to come opens it sooner than the one that runs.
    const both = asking(waits({ kind: "on-date", date: "2026-12-24", at: "18:00" }), {
      admissions: [course(now - 10 * day, now + 5 * day), course(now + 9 * day)],
    })
    expect(mayOpen(both, 2)).toMatchObject({ why: "not-yet", at: Date.parse("2026-12-24T17:00:00Z") })
  })

  it("says when and why in words", () => {
    const says = (a: MayOpen) =>
      openingWords(a, { now, zone: "Europe/Zagreb", lesson: () => "Salt", days: afterJoining })
    const notYet = (at: number | null, because: Extract<MayOpen, { why: "not-yet" }>["because"]) =>
      says({ open: false, why: "not-yet", at, because })
    expect(notYet(Date.parse("2026-11-27T05:00:00Z"), { kind: "days", days: 3 })).toBe(
      "Opens on Friday at 06:00, three days after you joined",
    )
    expect(notYet(Date.parse("2026-11-26T17:00:00Z"), { kind: "date" })).toBe("Opens tomorrow at 18:00")
    expect(notYet(Date.parse("2027-01-05T23:00:00Z"), { kind: "starts" })).toBe("The course begins on 6 January 2027")
    expect(notYet(null, { kind: "lesson", lesson: 1 })).toBe("Opens when you have done “Salt”")
    expect(notYet(now + 3_600_000, { kind: "admission" })).toBe("Your access begins today at 14:00")
    expect(says({ open: false, why: "ended", at: Date.parse("2026-10-03T09:30:00Z") })).toBe(
      "Your access ended on 3 October at 11:30",
    )
    expect(says({ open: true, by: "all" })).toBeNull()
  })
})

describe("opening times", () => {
  // Against moment-timezone, another library with the zones of IANA's database, over clock changes in every zone. A year that
  // is over: what governments change meanwhile stands in one release of the database and not yet in the other.
  const zones = Intl.supportedValuesOf("timeZone").filter((z) => moment.tz.zone(z))
  it("are those of an independent library in every zone across its clock changes", () => {
    let compared = 0
    for (const zone of zones)
      for (const month of [1, 3, 4, 9, 10, 11])
        for (const date of ["07", "08", "14", "27", "28", "29", "31"]) {
          const typed = `2024-${String(month).padStart(2, "0")}-${date}`
          for (const at of ["00:00", "02:30", "06:00"]) {
            const m = moment.tz(`${typed} ${at}`, zone)
            // In a gap, or on a day that month doesn't have, the two say different things by design.
            if (!m.isValid() || m.format("YYYY-MM-DD HH:mm") !== `${typed} ${at}`) continue
            expect(instantOf(typed, at, zone), `${zone} ${typed} ${at}`).toBe(m.valueOf())
            compared++
          }
        }
    expect(compared).toBeGreaterThan(40_000)
  })

  it("move on by the gap where a time doesn't exist, as RFC 5545 (3.3.5) has it", () => {
    expect(instantOf("2026-03-29", "02:30", "Europe/Zagreb")).toBe(Date.parse("2026-03-29T01:30:00Z"))
    expect(instantOf("2026-10-25", "02:30", "Europe/Zagreb")).toBe(Date.parse("2026-10-25T00:30:00Z"))
  })

  it("count days on the learner's calendar", () => {
    const from = Date.parse("2026-03-28T20:00:00Z")
    expect(daysAfter(from, 1, null, "Europe/Zagreb")).toBe(from + day - 3_600_000)
    expect(daysAfter(from, 1, "06:00", "Europe/Zagreb")).toBe(Date.parse("2026-03-29T04:00:00Z"))
    expect(daysAfter(from, 0, "06:00", "Europe/Zagreb")).toBe(from)
    expect(daysAfter(from, 1, "06:00", "Pacific/Kiritimati")).toBe(Date.parse("2026-03-29T16:00:00Z"))
  })
})

describe("a plan", () => {
  it("that only adds takes the place of the one before", () => {
    const p = plan([lesson(1), lesson(2)])
    expect(onlyAdds(p, plan([lesson(1), lesson(2), lesson(3)]))).toBe(true)
    expect(onlyAdds(p, plan([lesson(3), lesson(1), lesson(2)]))).toBe(true)
    expect(onlyAdds({ ...p, inOrder: true }, plan([lesson(3), lesson(1), lesson(2)], { inOrder: true }))).toBe(false)
    expect(onlyAdds({ ...p, inOrder: true }, plan([lesson(1), lesson(2), lesson(3)], { inOrder: true }))).toBe(true)
    expect(onlyAdds(p, plan([lesson(2), lesson(1)]))).toBe(false)
    expect(onlyAdds(p, plan([lesson(1)]))).toBe(false)
    expect(onlyAdds(p, plan([lesson(1), lesson(2, { opens: { kind: "after-lesson", lesson: 1 } })]))).toBe(false)
    expect(onlyAdds(p, plan([lesson(1), lesson(2)], { starts: "2027-01-01" }))).toBe(false)
    expect(onlyAdds(p, plan([lesson(1), lesson(2)], { opens: { kind: "after-days", days: 1, at: null } }))).toBe(false)
  })

  it("names what can never open", () => {
    const behind = (id: number, of: number) => lesson(id, { opens: { kind: "after-lesson", lesson: of } })
    expect([...neverOpens(plan([lesson(1), behind(2, 1), behind(3, 2)]))]).toEqual([])
    expect([...neverOpens(plan([behind(1, 2), behind(2, 1), lesson(3), behind(4, 2)]))]).toEqual([
      [1, "circle"],
      [2, "circle"],
      [4, "circle"],
    ])
    expect([...neverOpens(plan([behind(1, 1)]))]).toEqual([[1, "circle"]])
    expect([...neverOpens(plan([behind(1, 9)]))]).toEqual([[1, "gone"]])
    // In order, waiting for a later one is a circle, too.
    expect([...neverOpens(plan([behind(1, 2), lesson(2)], { inOrder: true }))]).toEqual([
      [1, "circle"],
      [2, "circle"],
    ])
    expect([...neverOpens(plan([behind(1, 2), lesson(2)]))]).toEqual([])
  })
})
