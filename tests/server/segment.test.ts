// Segments against MariaDB: the compiled SQL finds whom the plain filter finds, over the same random people and questions; and
// segments as they are kept, counted and taken out as CSV.

import fc from "fast-check"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { couponKey } from "@/core/offer/coupon"
import { foldValue } from "@/core/person/field"
import { comparisons } from "@/core/person/segment/field"
import { planStates, type WayToPay, waysToPay } from "@/core/person/segment/kind"
import type { Condition } from "@/core/person/segment/list"
import { everybody, type Segment } from "@/core/person/segment/segment"
import type { Db } from "@/server/db/pool"
import { countIn, countSoon, peopleIn, sampled, tryQuestion } from "@/server/person/count"
import { writeValues } from "@/server/person/field"
import {
  exportSegment,
  isPersonIn,
  listSegments,
  newSegment,
  readSegment,
  removeSegment,
  saveSegment,
} from "@/server/person/segment"
import { segmentChoices } from "@/server/person/segment-view"
import { whereOf } from "@/server/person/where"
import { usesOf } from "@/server/reference"
import { random } from "../support/random"
import { openSchool, type TestSchool, testSchool } from "../support/school"
import { isIn, type Known } from "../support/segment-holds"

const day = 86_400_000
const sources = ["garden letter", "direct", "podcast"]
let t: TestSchool
let course: number
let lessons: number[]
const tags: number[] = []
const offers: number[] = []
const zones = ["UTC", "Europe/Oslo"]
const typed = {
  text: ["Sauerkraut", "kimchi", "Käsekraut", "12"],
  number: ["3", "12", "-4.5", "1000000"],
  date: ["1984-03-09", "2026-01-01", "2026-12-31"],
  choice: ["1", "2", "3"],
}
const answers: [number, readonly string[]][] = []
const coupons: { id: number; key: string }[] = []
const steps: number[] = []
let funnel: number
/** As plans are kept, as far as it tells how they are paid. */
const agreed: Record<WayToPay, object> = {
  once: { today: 100, recurring: null },
  instalments: { today: 100, recurring: { amount: 1, every: { unit: "month", count: 1 }, times: 3 } },
  subscription: { today: 100, recurring: { amount: 1, every: { unit: "month", count: 1 }, times: null } },
}
let sequence: number
/** A segment that is kept by its name: who has the first tag. */
let saved: number
let letter: number
const known = new Map<number, Known>()

beforeAll(async () => {
  t = await testSchool("segment")
  course = (await openSchool(t)).course
  lessons = (await t.s.db.rows<{ id: number }>("SELECT id FROM lesson ORDER BY position")).map((l) => l.id)
  await t.s.db.transaction(fill)
})

/** Eighty people of whom anything may be so; what hangs on a funnel or a card is left out. */
async function fill(db: Db): Promise<void> {
  for (const name of ["keen", "slow"]) tags.push((await db.write("INSERT INTO tag (name) VALUES (?)", [name])).id)
  saved = (
    await db.write("INSERT INTO segment (name, question, made_at) VALUES ('Kept', ?, NOW())", [
      JSON.stringify({ match: "all", parts: [{ kind: "tag", tag: tags[0], has: true }] }),
    ])
  ).id
  await db.write("SET SESSION foreign_key_checks = 0")
  for (const name of ["Year", "Tray"])
    offers.push(
      (
        await db.write(
          "INSERT INTO offer (public_name, internal_name, promise, currency, made_at, changed_at) VALUES (?, '', '', 'EUR', NOW(), NOW())",
          [name],
        )
      ).id,
    )
  sequence = (await db.row<{ id: number }>("SELECT id FROM sequence LIMIT 1"))!.id
  letter = (await db.row<{ id: number }>("SELECT id FROM sequence_mail WHERE sequence_id = ? LIMIT 1", [sequence]))!.id
  for (const kind of ["text", "number", "date", "choice"] as const)
    answers.push([
      (await db.write("INSERT INTO field (label, kind, made_at) VALUES (?, ?, NOW())", [`The ${kind}`, kind])).id,
      typed[kind],
    ])
  for (const code of ["GARDEN", "Spring-5"]) {
    const key = couponKey(code)
    const made = await db.write(
      "INSERT INTO coupon (code, code_key, given_out, kind, value, on_charges, made_at) VALUES (?, ?, '', 'percent', 10, 'first', NOW())",
      [code, key],
    )
    coupons.push({ id: made.id, key })
  }
  ;({ id: funnel } = (await db.row<{ id: number }>("SELECT id FROM funnel LIMIT 1"))!)
  steps.push(...(await db.rows<{ id: number }>("SELECT id FROM step ORDER BY id")).map((x) => x.id))
  const next = random(7)
  const chance = (share: number) => next() < share
  const some = <T>(all: readonly T[]) => all[Math.floor(next() * all.length)]!
  // Never on the second of a boundary: instants are kept to the millisecond on both sides, days are counted from now.
  const ago = (most: number) => t.at() - Math.floor(next() * most * day) - 1
  for (let i = 0; i < 80; i++) {
    const joinedAt = ago(60)
    const source = some(sources)
    const zone = some(zones)
    const person = (
      await db.write("INSERT INTO person (name, email, zone, joined_at, source) VALUES (?, ?, ?, ?, ?)", [
        `P${i}`,
        `p${i}@x.example`,
        zone,
        new Date(joinedAt),
        source,
      ])
    ).id
    const receives = chance(0.8)
    await db.write("INSERT INTO address (person_id, email, canonical, suppressed) VALUES (?, ?, ?, ?)", [
      person,
      `p${i}@x.example`,
      `p${i}@x.example`,
      receives ? null : some(["left", "undeliverable"]),
    ])
    const affiliate = i % 3 === 0
    if (i % 3 < 2)
      await db.write(
        "INSERT INTO affiliate (person_id, state, code, public_name, asked_at, source) VALUES (?, ?, ?, '', NOW(), 'hand')",
        [person, affiliate ? "active" : some(["invited", "asked", "ended"]), `code-${i}`],
      )
    const own = new Set(tags.filter(() => chance(0.4)))
    for (const tag of own)
      await db.write("INSERT INTO person_tag (person_id, tag_id, at, joined_at) VALUES (?, ?, NOW(), NOW())", [
        person,
        tag,
      ])
    const fields = new Map<number, string>()
    for (const [of, all] of answers) {
      if (!chance(0.7)) continue
      const value = some(all)
      fields.set(of, foldValue(value))
      await writeValues(db, [{ person, field: of, value }], t.at())
    }
    const running = chance(0.5)
    if (running || chance(0.3))
      await db.write(
        "INSERT INTO admission (person_id, course_id, origin, from_at, until_at) VALUES (?, ?, 'hand', ?, ?)",
        [
          person,
          course,
          new Date(t.at() - 50 * day),
          running ? (chance(0.5) ? null : new Date(t.at() + day)) : new Date(t.at() - day),
        ],
      )
    const done = new Set(lessons.filter(() => chance(0.3)))
    for (const l of done)
      await db.write("INSERT INTO lesson_done (person_id, lesson_id, at) VALUES (?, ?, NOW())", [person, l])
    const lastHere = chance(0.6) ? ago(60) : null
    const looked = new Set(lastHere === null ? [] : [lessons[0]!])
    if (lastHere !== null)
      await db.write("INSERT INTO lesson_seen (person_id, lesson_id, at, last_at) VALUES (?, ?, ?, ?)", [
        person,
        lessons[0],
        new Date(lastHere),
        new Date(lastHere),
      ])
    const clicked = Array.from({ length: Math.floor(next() * 3) }, () => ago(60))
    for (const at of clicked)
      await db.write("INSERT INTO fact (at, recorded_at, kind, person_id) VALUES (?, NOW(), 'clicked', ?)", [
        new Date(at),
        person,
      ])
    const opened: { sequence: number | null; at: number }[] = []
    for (let n = Math.floor(next() * 3); n > 0; n--) {
      const [of, at] = [chance(0.5), chance(0.7) ? ago(60) : null]
      await db.write(
        "INSERT INTO mail (once, kind, state, person_id, sequence_mail_id, to_email, due_at, try_at, opened_at) VALUES (?, 'broadcast', 'sent', ?, ?, '', NOW(), NOW(), ?)",
        [`${person}:${n}`, person, of ? letter : null, at === null ? null : new Date(at)],
      )
      if (at !== null) opened.push({ sequence: of ? sequence : null, at })
    }
    const got: { sequence: number | null; at: number }[] = []
    for (let n = Math.floor(next() * 3); n > 0; n--) {
      const [of, at] = [chance(0.5), ago(60)]
      const state = some(["sent", "sent", "cancelled"])
      await db.write(
        "INSERT INTO mail (once, kind, state, person_id, sequence_mail_id, to_email, due_at, try_at, sent_at) VALUES (?, 'broadcast', ?, ?, ?, '', NOW(), NOW(), ?)",
        [`got:${person}:${n}`, state, person, of ? letter : null, new Date(at)],
      )
      if (state === "sent") got.push({ sequence: of ? sequence : null, at })
    }
    const visited: { step: number; at: number }[] = []
    if (chance(0.6)) {
      const visitor = Buffer.from(`v${String(person).padStart(15, "0")}`)
      await db.write(
        "INSERT INTO journey (funnel_id, visitor, person_id, source, begun_at, rest_step_id, rest_at) VALUES (?, ?, ?, 'x', NOW(), ?, NOW())",
        [funnel, visitor, person, steps[0]],
      )
      for (const step of steps.slice(0, 3).filter(() => chance(0.5))) {
        const at = ago(60)
        await db.write(
          "INSERT INTO fact (at, recorded_at, kind, funnel_id, visitor, step_id, via, source, begun_at) VALUES (?, NOW(), 'arrived', ?, ?, ?, 'source', 'x', NOW())",
          [new Date(at), funnel, visitor, step],
        )
        visited.push({ step, at })
      }
    }
    const surveys: { lesson: number; block: string; answers: Record<string, number[] | number | string> }[] = []
    if (chance(0.6)) {
      const said: Record<string, number[] | number | string> = {
        ...(chance(0.8) ? { q1: [0, 1, 2].filter(() => chance(0.5)) } : {}),
        ...(chance(0.8) ? { "2q": 1 + Math.floor(next() * 3) } : {}),
        ...(chance(0.5) ? { q3: "words" } : {}),
      }
      await db.write(
        "INSERT INTO survey_answer (person_id, lesson_id, block, answers, at) VALUES (?, ?, 'b1', ?, NOW())",
        [person, lessons[0], JSON.stringify(said)],
      )
      surveys.push({ lesson: lessons[0]!, block: "b1", answers: said })
    }
    const waits = new Set<number>()
    if (chance(0.4)) {
      const told = chance(0.3) ? new Date(ago(30)) : null
      await db.insert("waiting", {
        person_id: person,
        course_id: course,
        page: "/all",
        since_at: new Date(),
        told_at: told,
      })
      if (!told) waits.add(course)
    }
    const paid: { currency: string; amount: number; at: number }[] = []
    const bought: { offer: number; at: number; how: WayToPay; coupon: string }[] = []
    const plans: { offer: number; state: (typeof planStates)[number] }[] = []
    for (const offer of offers) {
      if (!chance(0.35)) continue
      const at = ago(60)
      const state = some(["paid", "paid", "refunded", "open"])
      const order = await db.write(
        `INSERT INTO orders (code, once, state, step_id, visitor, person_id, canonical, email, name, zone, currency, net, tax, gross, sentence, made_at, paid_at, hold_until)
         VALUES (?, ?, ?, 1, ?, ?, '', '', '', 'UTC', 'EUR', 1, 0, 1, '', ?, ?, NOW())`,
        [`c${person}-${offer}`, `o${person}-${offer}`, state, Buffer.alloc(16), person, new Date(at), new Date(at)],
      )
      const code = chance(0.5) ? some(coupons) : null
      await db.write("UPDATE orders SET coupon_id = ? WHERE id = ?", [code?.id ?? null, order.id])
      for (const settled of ["succeeded", "refused"] as const) {
        const [gross, refunded, currency, settledAt] = [
          100 * Math.ceil(next() * 90),
          chance(0.3) ? 50 : 0,
          some(["EUR", "USD"]),
          ago(60),
        ]
        await db.write(
          "INSERT INTO charge (once, order_id, state, net, tax, gross, currency, refunded, at, ask_at, settled_at) VALUES (?, ?, ?, 1, 0, ?, ?, ?, NOW(), NOW(), ?)",
          [`h${order.id}:${settled}`, order.id, settled, gross, currency, refunded, new Date(settledAt)],
        )
        if (settled === "succeeded") paid.push({ currency, amount: gross - refunded, at: settledAt })
      }
      const paying = some(waysToPay)
      const line = await db.write(
        "INSERT INTO order_line (order_id, offer_id, role, name, plan, gross) VALUES (?, ?, 'main', '', ?, 1)",
        [order.id, offer, JSON.stringify(agreed[paying])],
      )
      if (state === "paid") bought.push({ offer, at, how: paying, coupon: code?.key ?? "" })
      if (chance(0.5)) {
        const how = some(planStates)
        await db.write(
          "INSERT INTO plan (order_line_id, order_id, person_id, state, next_n, next_due, try_at) VALUES (?, ?, ?, ?, 1, NOW(), NOW())",
          [line.id, order.id, person, how],
        )
        plans.push({ offer, state: how })
      }
    }
    known.set(person, {
      joinedAt,
      source,
      zone,
      tags: own,
      fields,
      courses: new Set(running ? [course] : []),
      waits,
      lessons: new Map([[course, { of: lessons.length, done: done.size }]]),
      done,
      looked,
      segments: new Set(own.has(tags[0]!) ? [saved] : []),
      bought,
      paid,
      got,
      visited,
      surveys,
      plans,
      lastHere,
      opened,
      clicked,
      receives,
      affiliate,
    })
  }
  await db.write("SET SESSION foreign_key_checks = 1")
}
afterAll(() => t.end())

/** Any question about what there is, and about what there isn't. */
function questions(): fc.Arbitrary<Segment> {
  const of = (all: readonly number[]) => fc.constantFrom(...all, 9_999)
  const days = fc.integer({ min: 1, max: 70 })
  const has = fc.boolean()
  const percent = fc.integer({ min: 0, max: 100 })
  /** A kind that is missing here doesn't compile. */
  const kinds: { readonly [K in Condition["kind"]]: fc.Arbitrary<Extract<Condition, { kind: K }>> } = {
    tag: fc.record({ kind: fc.constant("tag" as const), tag: of(tags), has }),
    joined: fc.record({ kind: fc.constant("joined" as const), within: has, days }),
    source: fc.record({
      kind: fc.constant("source" as const),
      source: fc.constantFrom(...sources, "'; DROP"),
      is: has,
    }),
    course: fc.record({ kind: fc.constant("course" as const), course: of([course]), has }),
    waits: fc.record({ kind: fc.constant("waits" as const), course: of([course]), has }),
    progress: fc.record({ kind: fc.constant("progress" as const), course: of([course]), from: percent, to: percent }),
    lesson: fc.record({ kind: fc.constant("lesson" as const), lesson: of(lessons), has, opened: has }),
    segment: fc.record({ kind: fc.constant("segment" as const), segment: of([saved]), is: has }),
    bought: fc.oneof(
      fc.record({ kind: fc.constant("bought" as const), offer: fc.option(of(offers)), has, days: fc.option(days) }),
      fc.record({
        kind: fc.constant("bought" as const),
        offer: fc.option(of(offers)),
        has,
        days: fc.option(days),
        how: fc.option(fc.constantFrom(...waysToPay), { nil: undefined }),
        coupon: fc.option(fc.constantFrom("garden", "SPRING-5", "none' --"), { nil: undefined }),
      }),
    ),
    spent: fc.record({
      kind: fc.constant("spent" as const),
      least: fc.integer({ min: 1, max: 12_000 }),
      currency: fc.constantFrom("EUR" as const, "USD" as const, "NOK" as const),
      has,
      days: fc.option(days),
    }),
    survey: fc.record({
      kind: fc.constant("survey" as const),
      lesson: of(lessons.slice(0, 2)),
      block: fc.constantFrom("b1", "b2"),
      question: fc.constantFrom("q1", "2q", "q3", "q4"),
      answer: fc.option(fc.integer({ min: 0, max: 4 })),
      has,
      asks: fc.constant("How?"),
      says: fc.constant("So"),
    }),
    visited: fc.record({
      kind: fc.constant("visited" as const),
      step: of(steps.slice(0, 3)),
      has,
      days: fc.option(days),
    }),
    got: fc.record({
      kind: fc.constant("got" as const),
      sequence: fc.option(of([sequence])),
      has,
      days: fc.option(days),
    }),
    "joined-between": fc.record({
      kind: fc.constant("joined-between" as const),
      from: fc.option(fc.constantFrom("2026-10-01", "2026-10-25", "2026-11-20")),
      to: fc.option(fc.constantFrom("2026-10-01", "2026-10-25", "2026-11-20")),
      zone: fc.constantFrom("UTC", "Europe/Oslo", "Pacific/Kiritimati", "no zone"),
    }),
    plan: fc.record({
      kind: fc.constant("plan" as const),
      offer: fc.option(of(offers)),
      state: fc.constantFrom(...planStates),
      has,
    }),
    here: fc.record({ kind: fc.constant("here" as const), has, days }),
    clicked: fc.record({ kind: fc.constant("clicked" as const), has, days }),
    opened: fc.record({
      kind: fc.constant("opened" as const),
      sequence: fc.option(of([sequence])),
      has,
      days: fc.option(days),
    }),
    field: fc.record({
      kind: fc.constant("field" as const),
      field: of(answers.map(([id]) => id)),
      how: fc.constantFrom(...comparisons),
      value: fc.constantFrom(...Object.values(typed).flat(), "KRAUT", "", "2026", "4,5", "no' --"),
      choice: fc.constant(false),
      has,
    }),
    zone: fc.record({ kind: fc.constant("zone" as const), zone: fc.constantFrom(...zones, "Mars/Base"), is: has }),
    receives: fc.record({ kind: fc.constant("receives" as const), is: has }),
    affiliate: fc.record({ kind: fc.constant("affiliate" as const), is: has }),
    "signed-in": fc.record({ kind: fc.constant("signed-in" as const), is: has }),
  }
  const condition: fc.Arbitrary<Condition> = fc.oneof(...Object.values(kinds))
  const match = fc.constantFrom("all" as const, "any" as const)
  const group = fc.record({ match, not: has, parts: fc.array(condition, { maxLength: 3 }) })
  return fc.record({ match, parts: fc.array(fc.oneof(condition, condition, group), { maxLength: 4 }) })
}

describe("the SQL of a segment", () => {
  it("finds whom the plain filter finds, for two thousand questions", async () => {
    const sizes = new Set<number>()
    await fc.assert(
      fc.asyncProperty(questions(), async (q) => {
        const { sql, values } = await whereOf(t.s.db, q, t.at())
        const rows = await t.s.db.rows<{ id: number }>(`SELECT p.id FROM person p WHERE ${sql} ORDER BY p.id`, [
          ...values,
        ])
        expect(await countIn(t.s, q)).toBe(rows.length)
        const plain = [...known].filter(([, who]) => isIn(q, who, t.at())).map(([id]) => id)
        expect(rows.map((r) => r.id)).toEqual(plain)
        sizes.add(plain.length)
      }),
      { seed: 11, numRuns: 2_000 },
    )
    // The questions are about something: they find few, many and all.
    expect(sizes.size).toBeGreaterThan(40)
  })
})

describe("a segment that is kept", () => {
  const keen = (): Segment => ({ match: "all", parts: [{ kind: "tag", tag: tags[0]!, has: true }] })

  it("is counted, said in words, shown, and taken out as CSV", async () => {
    const made = await newSegment(t.s, " Keen ones ")
    if ("refused" in made) throw new Error(made.refused)
    expect(await readSegment(t.s.db, made.id)).toEqual({
      revision: 1,
      value: { name: "Keen ones", question: everybody },
    })
    await saveSegment(t.s, made.id, { question: keen() })
    const n = [...known.values()].filter((k) => k.tags.has(tags[0]!)).length
    expect(await listSegments(t.s)).toContainEqual({
      id: made.id,
      name: "Keen ones",
      says: "have the tag “keen”",
      count: { least: n, most: n },
    })
    const found = await peopleIn(t.s, keen())
    expect([found.count.most, found.first?.length]).toEqual([n, Math.min(20, n)])
    let text = ""
    for await (const part of exportSegment(t.s, made.id)) text += part
    expect(text.trim().split("\r\n")).toHaveLength(n + 1)
    expect(text).toContain("keen")
    expect(await usesOf(t.s.db, "tag", tags[0]!)).toMatchObject([
      { says: "the segment “Keen ones”", use: "asks who has it" },
    ])
    expect((await segmentChoices(t.s.db)).sources).toEqual([...sources].sort())
    expect(await removeSegment(t.s, made.id)).toEqual({ ok: true })
    expect(await removeSegment(t.s, made.id)).toMatchObject({ refused: expect.any(String) })
    expect(await usesOf(t.s.db, "tag", tags[0]!)).toEqual([])
  })

  it("asks another one by its name, never itself, and stays while it is asked for", async () => {
    const made = await newSegment(t.s, "Not keen")
    if ("refused" in made) throw new Error(made.refused)
    const question: Segment = { match: "all", parts: [{ kind: "segment", segment: saved, is: false }] }
    await saveSegment(t.s, made.id, { question })
    expect((await listSegments(t.s)).find((x) => x.id === made.id)?.says).toBe("are not in the segment “Kept”")
    const round: Segment = { match: "all", parts: [{ kind: "segment", segment: made.id, is: true }] }
    expect(await saveSegment(t.s, saved, { question: round })).toHaveProperty("refused")
    expect(await saveSegment(t.s, made.id, { question: round })).toHaveProperty("refused")
    expect(await removeSegment(t.s, saved)).toHaveProperty("refused")
    expect(await removeSegment(t.s, made.id)).toEqual({ ok: true })
  })

  it("leaves out whoever was taken into another person, and refuses what it isn't", async () => {
    const [one, two] = [...known.keys()]
    const all = await countIn(t.s, everybody)
    await t.s.db.write("UPDATE person SET united_with = ? WHERE id = ?", [two, one])
    expect(await countIn(t.s, everybody)).toBe(all - 1)
    expect(await isPersonIn(t.s.db, everybody, one!, t.at())).toBe(false)
    await t.s.db.write("UPDATE person SET united_with = NULL WHERE id = ?", [one])
    expect(await tryQuestion(t.s, { match: "all", parts: [{ kind: "sql", sql: "1" }] })).toHaveProperty("refused")
    expect(await newSegment(t.s, "")).toHaveProperty("refused")
    expect(await saveSegment(t.s, 9_999, { name: "x" })).toHaveProperty("refused")
  })
})

describe("a sample", () => {
  it("says between what the count lies, without counting all", async () => {
    const thirds: Segment = { match: "all", parts: [{ kind: "source", source: "third", is: true }] }
    expect(await sampled(t.s, thirds)).toBeNull()
    await t.s.db.write(
      "INSERT INTO person (name, email, zone, joined_at, source, searched) SELECT 'X', CONCAT('many', seq, '@s.example'), 'UTC', NOW(), IF(seq % 3 = 0, 'third', 'else'), '' FROM seq_1_to_60000",
    )
    const said = (await sampled(t.s, thirds))!
    expect(said.least).toBeLessThanOrEqual(20_000)
    expect(said.most).toBeGreaterThanOrEqual(20_000)
    expect(said.most - said.least).toBeLessThan(4_000)
    const nobody: Segment = { match: "all", parts: [{ kind: "source", source: "nowhere", is: true }] }
    expect(await sampled(t.s, nobody)).toMatchObject({ least: 0 })
    // What can be counted soon is; on a slow machine the sample's word stands.
    expect([{ least: 20_000, most: 20_000 }, said]).toContainEqual(await countSoon(t.s, thirds))
    expect(await countIn(t.s, thirds)).toBe(20_000)
  })
})
