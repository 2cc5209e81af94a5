// The demo school: invented, but its rows must mean what the use cases' rows mean.

import { join } from "node:path"
import { demoAccount, isDemoLoaded } from "@demo/account"
import { firstCrock } from "@demo/lessons"
import { loadDemo } from "@demo/load"
import { drawScene, lessonScenes } from "@demo/pictures"
import { seeded } from "@demo/seeded"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { today } from "@/server/clock"
import { myCourses } from "@/server/course/learn"
import { loadFunnel } from "@/server/funnel/load"
import { checkFunnel, isChanged } from "@/server/funnel/release"
import { readRiver, rollUp } from "@/server/funnel/rollup"
import { signIn } from "@/server/person/account"
import { countPeople, personStory } from "@/server/person/people"
import { httpCards } from "@/server/port/cards"
import { readToday } from "@/server/today"
import { Store } from "@/standins/processor/store"
import { type TestSchool, testSchool } from "../support/school"

let t: TestSchool
beforeAll(async () => {
  const plain = await testSchool("demo")
  // Nothing is charged while the demo is filled; that there is a processor is what preflight asks.
  t = { ...plain, s: { ...plain.s, cards: httpCards({ url: "http://127.0.0.1:9", key: "", hookSecret: "" }) } }
  await loadDemo(t.s, 500)
  t.set(today())
})
afterAll(() => t.end())

const one = async (sql: string, values: unknown[] = []) =>
  Number(Object.values((await t.s.db.row<Record<string, unknown>>(sql, values)) ?? { n: -1 })[0])

describe("the demo school", () => {
  it("is there, is live, and has nothing to fix", async () => {
    expect(await isDemoLoaded(t.s.db)).toBe(true)
    const funnel = (await loadFunnel(t.s.db, 1))!
    expect(await checkFunnel(t.s, funnel)).toEqual([])
    expect(await isChanged(t.s.db, funnel)).toBe(false)
    expect(funnel.steps[0]!.path).toBe("first-crock")
    expect(funnel.sequences[0]!.mails).toHaveLength(firstCrock.lessons.length)
  })

  it("lets its account in", async () => {
    expect(await signIn(t.s, { ...demoAccount, ip: "127.0.0.1" })).toHaveProperty("session")
  })

  it("is known to its card processor payment by payment, under the orders that they belong to", async () => {
    const { payments } = new Store(join(t.s.config.dataFolder, "processor"))
    const charges = await t.s.db.rows<{ payment: string; order: number; gross: number }>(
      "SELECT payment, order_id AS `order`, gross FROM charge WHERE payment IS NOT NULL",
    )
    expect(charges.length).toBeGreaterThan(5)
    for (const c of charges)
      expect(payments.get(c.payment)).toMatchObject({ reference: `order ${c.order}`, amount: c.gross })
  })

  it("has only .example addresses", async () => {
    expect(await one("SELECT COUNT(*) FROM address WHERE canonical NOT LIKE '%.example'")).toBe(0)
    expect(await one("SELECT COUNT(*) FROM address WHERE canonical <> LOWER(canonical)")).toBe(0)
  })

  it("gives everyone who joined an address, a consent, an admission and an enrolment", async () => {
    const people = await countPeople(t.s.db, { search: "", tag: null })
    expect(await one("SELECT COUNT(DISTINCT person_id) FROM address")).toBe(people)
    const joined = await one("SELECT COUNT(*) FROM fact WHERE kind = 'confirmed'")
    expect(joined).toBeGreaterThan(100)
    expect(await one("SELECT COUNT(*) FROM consent WHERE kind = 'given' AND page = '/first-crock'")).toBe(joined)
    expect(await one("SELECT COUNT(*) FROM admission WHERE origin = 'funnel:1'")).toBe(joined)
    expect(await one("SELECT COUNT(*) FROM enrolment WHERE sequence_id = 1")).toBe(joined)
    expect(await one("SELECT COUNT(*) FROM journey WHERE funnel_id = 1 AND person_id IS NOT NULL")).toBe(joined)
  })

  it("has sold for a year: what was charged is in the books, and the books add up", async () => {
    expect(await one("SELECT COUNT(DISTINCT state) FROM orders")).toBe(4) // begun, refused, paid, refunded
    expect(await one("SELECT COUNT(*) FROM plan WHERE state IN ('running', 'finished', 'ended')")).toBeGreaterThan(10)
    expect(await one("SELECT SUM(amount) FROM journal")).toBe(0)
    expect(await one("SELECT SUM(amount) FROM journal WHERE account = 'cards'")).toBe(
      await one("SELECT SUM(gross - refunded) FROM charge WHERE state = 'succeeded'"),
    )
    expect(await one("SELECT COUNT(*) FROM charge WHERE net + tax <> gross")).toBe(0)
    // The first day of a paid order is what was charged for it.
    expect(
      await one(
        "SELECT COUNT(*) FROM orders o LEFT JOIN charge c ON c.order_id = o.id AND c.plan_id IS NULL AND c.state = 'succeeded' WHERE o.state IN ('paid', 'refunded') AND o.gross <> COALESCE(c.gross, 0)",
      ),
    ).toBe(0)
    expect(
      await one("SELECT COUNT(*) FROM plan WHERE state = 'running' AND next_due < ?", [new Date(t.at() - 60_000)]),
    ).toBe(0)
    // What was paid on the way is what the first charges of each journey's orders came to.
    expect(await one("SELECT SUM(paid) FROM journey")).toBe(
      await one("SELECT SUM(gross) FROM orders WHERE state IN ('paid', 'refunded')"),
    )
  })

  it("opens what was bought and closes what was given back with it", async () => {
    expect(
      await one(
        "SELECT COUNT(*) FROM orders o JOIN order_line l ON l.order_id = o.id WHERE o.state = 'paid' AND NOT EXISTS (SELECT 1 FROM admission a WHERE a.origin = CONCAT('line:', l.id))",
      ),
    ).toBe(0)
    expect(
      await one(
        "SELECT COUNT(*) FROM orders o JOIN order_line l ON l.order_id = o.id JOIN admission a ON a.origin = CONCAT('line:', l.id) WHERE o.state = 'refunded' AND a.until_at IS NULL",
      ),
    ).toBe(0)
  })

  it("sells through a funnel that has nothing to fix, and whose river adds up in people and in money", async () => {
    const funnel = (await loadFunnel(t.s.db, 2))!
    expect(await checkFunnel(t.s, funnel)).toEqual([])
    const range = { from: t.at() - 400 * 86_400_000, to: t.at() + 86_400_000 }
    const people = await readRiver(t.s, funnel, range)
    const money = await readRiver(t.s, funnel, range, "money")
    for (const s of [...people.steps, ...money.steps]) expect(s.in).toBe(s.on + s.here + s.left)
    expect(people.steps[0]!.in).toBe(await one("SELECT COUNT(*) FROM journey WHERE funnel_id = 2"))
    expect(money.steps.reduce((sum, s) => sum + s.here + s.left, 0)).toBe(
      await one("SELECT SUM(paid) FROM journey WHERE funnel_id = 2"),
    )
  })

  it("has no mail sent before it was due, and none of the future but what is due", async () => {
    expect(await one("SELECT COUNT(*) FROM mail WHERE state = 'sent' AND sent_at < due_at")).toBe(0)
    expect(
      await one("SELECT COUNT(*) FROM mail WHERE state = 'sent' AND sent_at > ?", [new Date(t.at() + 5_000)]),
    ).toBe(0)
    expect(await one("SELECT COUNT(*) FROM mail WHERE state = 'due' AND due_at < ?", [new Date(t.at() - 60_000)])).toBe(
      0,
    )
    expect(await one("SELECT COUNT(*) FROM fact WHERE at > ?", [new Date(t.at() + 5_000)])).toBe(0)
    expect(await one("SELECT COUNT(*) FROM fact WHERE kind = 'mailed'")).toBe(
      await one("SELECT COUNT(*) FROM mail WHERE state = 'sent' AND kind IN ('sequence', 'broadcast')"),
    )
    // Each running enrolment has one mail that is due, or is looked at when its wait is over; each that has ended has none.
    expect(
      await one(
        "SELECT COUNT(*) FROM enrolment n WHERE n.ended_at IS NULL AND (SELECT COUNT(*) FROM mail m WHERE m.enrolment_id = n.id AND m.state = 'due') + (n.due_at IS NOT NULL) <> 1",
      ),
    ).toBe(0)
    expect(
      await one(
        "SELECT COUNT(*) FROM enrolment n JOIN mail m ON m.enrolment_id = n.id WHERE n.ended_at IS NOT NULL AND m.state = 'due'",
      ),
    ).toBe(0)
  })

  it("has a river that adds up and agrees with its journeys", async () => {
    const funnel = (await loadFunnel(t.s.db, 1))!
    const river = await readRiver(t.s, funnel, { from: t.at() - 60 * 86_400_000, to: t.at() + 86_400_000 })
    expect(river.steps[0]!.in).toBe(await one("SELECT COUNT(*) FROM journey WHERE funnel_id = 1"))
    for (const s of river.steps) {
      expect(s.in).toBe(s.on + s.here + s.left)
      expect(s.in - s.on).toBe(await one("SELECT COUNT(*) FROM journey WHERE rest_step_id = ?", [s.id]))
    }
    expect(river.streams.some((s) => s.via === "mail" && s.n > 0)).toBe(true)
    expect(await rollUp(t.s)).toBe(0) // all of it is rolled up already
  })

  it("has somebody whose story reads from the first visit to the lessons", async () => {
    const id = await one(
      "SELECT d.person_id FROM lesson_done d JOIN lesson l ON l.id = d.lesson_id AND l.course_id = 1 GROUP BY d.person_id ORDER BY COUNT(*) DESC LIMIT 1",
    )
    const story = (await personStory(t.s.db, id))!
    const kinds = story.facts.map((f) => f.kind)
    expect(kinds[0]).toBe("arrived")
    expect(kinds.indexOf("confirmed")).toBeLessThan(kinds.indexOf("mailed"))
    expect(kinds).toContain("lesson-done")
    const times = story.facts.map((f) => f.at.getTime())
    expect([...times].sort((a, b) => a - b)).toEqual(times)
    const course = (await myCourses(t.s, { person: id, scope: null })).find((c) => c.title === firstCrock.title)
    expect(course!.lessons.map((l) => l.title)).toEqual(firstCrock.lessons.map((l) => l.title))
    expect(course!.done.size).toBeGreaterThan(1)
  })

  it("keeps to the school's own hours and limits: never at night, one a day, three in seven days", async () => {
    const mails = await t.s.db.rows<{ person: number; zone: string; at: Date }>(
      "SELECT m.person_id AS person, p.zone, m.sent_at AS at FROM mail m JOIN person p ON p.id = m.person_id WHERE m.state = 'sent' AND m.goes <> 'asked' ORDER BY m.person_id, m.sent_at",
    )
    expect(mails.length).toBeGreaterThan(100)
    const days = new Map<number, number[]>()
    for (const m of mails) {
      const at = new Intl.DateTimeFormat("en-CA", {
        timeZone: m.zone,
        hourCycle: "h23",
        year: "numeric",
        month: "2-digit",
        day: "2-digit",
        hour: "2-digit",
      }).formatToParts(m.at)
      const part = (type: string) => at.find((x) => x.type === type)!.value
      expect(Number(part("hour"))).toBeGreaterThanOrEqual(7)
      expect(Number(part("hour"))).toBeLessThan(21)
      const day = Date.parse(`${part("year")}-${part("month")}-${part("day")}`) / 86_400_000
      days.set(m.person, [...(days.get(m.person) ?? []), day])
    }
    for (const all of days.values()) {
      expect(new Set(all).size).toBe(all.length)
      for (const d of all) expect(all.filter((x) => x > d - 7 && x <= d).length).toBeLessThanOrEqual(3)
    }
  })

  it("writes to nobody of what they have bought, and numbers its orders in their order", async () => {
    expect(
      await one(
        `SELECT COUNT(*) FROM mail m JOIN sequence_mail x ON x.id = m.sequence_mail_id JOIN sequence q ON q.id = x.sequence_id AND q.flow LIKE '%"goal":{%"kind":"bought"%'
         JOIN orders o ON o.person_id = m.person_id AND o.state = 'paid' AND o.paid_at <= m.sent_at
         JOIN order_line l ON l.order_id = o.id AND l.offer_id = JSON_VALUE(q.flow, '$.goal.parts[0].offer') WHERE m.state = 'sent'`,
      ),
    ).toBe(0)
    expect(await one("SELECT COUNT(*) FROM orders a JOIN orders b ON b.id > a.id AND b.made_at < a.made_at")).toBe(0)
    // What hangs on an order went along with its number.
    expect(
      await one("SELECT COUNT(*) FROM orders o JOIN orders f ON f.id = o.first_id AND f.visitor <> o.visitor"),
    ).toBe(0)
    expect(
      await one("SELECT COUNT(*) FROM mail m JOIN orders o ON o.id = m.order_id WHERE m.to_email <> o.email"),
    ).toBe(0)
    expect(
      await one(
        "SELECT COUNT(*) FROM fact f JOIN orders o ON o.id = f.subject_id AND f.kind = 'bought' WHERE f.person_id <> o.person_id",
      ),
    ).toBe(0)
  })

  it("has people who learn in what they bought, and others who have fallen behind", async () => {
    const done = await t.s.db.rows<{ n: number }>(
      "SELECT COUNT(*) AS n FROM lesson_done d JOIN lesson l ON l.id = d.lesson_id JOIN course c ON c.id = l.course_id AND c.slug = 'a-year-in-ferments' GROUP BY d.person_id",
    )
    const many = done.map((d) => d.n)
    expect(many.length).toBeGreaterThan(5)
    expect(Math.max(...many)).toBeGreaterThan(5)
    expect(Math.min(...many)).toBe(1)
  })

  it("says something on Today", async () => {
    const today = await readToday(t.s)
    expect(today.week.visited).toBeGreaterThan(20)
    expect(today.week.newPeople).toBeGreaterThan(5)
    expect(today.before.visited).toBeGreaterThan(20)
    // Whose e-mail is next differs with the hour it is made.
    const first = await t.s.db.row<{ due_at: Date }>("SELECT MIN(due_at) AS due_at FROM mail WHERE state = 'due'")
    expect(today.next!.at).toBe(first!.due_at.getTime())
    expect(today.next!.at).toBeGreaterThan(t.at())
  })

  it("is emptied and made anew, the same as before", async () => {
    const before = [await one("SELECT COUNT(*) FROM person"), await one("SELECT COUNT(*) FROM journey")]
    await loadDemo(t.s, 500)
    const after = [await one("SELECT COUNT(*) FROM person"), await one("SELECT COUNT(*) FROM journey")]
    // Who came within the last minutes differs with the minute it is made.
    expect(Math.abs(after[0]! - before[0]!)).toBeLessThanOrEqual(8)
    expect(Math.abs(after[1]! - before[1]!)).toBeLessThanOrEqual(12)
    expect(await one("SELECT COUNT(*) FROM funnel")).toBe(5)
  })
})

describe("its parts", () => {
  it("draws every picture", async () => {
    for (const scene of ["cover", "shelf", "tray", ...lessonScenes] as const)
      expect((await drawScene(scene)).subarray(1, 4).toString()).toBe("PNG")
  })
  it("throws the same dice every time, evenly", () => {
    const [a, b] = [seeded(7), seeded(7)]
    const values = Array.from({ length: 10_000 }, () => a())
    expect(values).toEqual(Array.from({ length: 10_000 }, () => b()))
    expect(values.reduce((x, y) => x + y) / values.length).toBeCloseTo(0.5, 1)
    expect(Math.min(...values)).toBeGreaterThanOrEqual(0)
    expect(Math.max(...values)).toBeLessThan(1)
    expect(seeded(8)()).not.toBe(seeded(7)())
  })
})
