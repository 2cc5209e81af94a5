// Many at once come to the same as one after the other: what letting in writes, what listens to it, and what is made of people.

import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { admit, admitAll } from "@/server/course/admission"
import { saveCourse, saveModule } from "@/server/course/course"
import { openLesson } from "@/server/course/in-lesson"
import { courseFor, courseSeenAs, lessonSeenAs } from "@/server/course/learn"
import { letPeopleIn } from "@/server/course/let-in"
import { exportMembers, listMembers } from "@/server/course/members"
import { copyCourse } from "@/server/course/outline"
import { makePeople } from "@/server/person/person"
import { queueWaysIn } from "@/server/person/way-in"
import { performAll } from "@/server/sequence/effect/list"
import { openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let course: number
beforeAll(async () => {
  t = await testSchool("many")
  course = (await openSchool(t)).course
  await saveCourse(t.s, { course, awayDays: 5, opens: { kind: "after-days", days: 3, at: "06:00" } })
})
afterAll(() => t.end())

const everybody = () => ({ course, search: "", only: "" as const, page: 0 })
const newcomers = (names: readonly string[]) =>
  t.s.db.transaction((tx) =>
    makePeople(
      tx,
      names.map((n) => ({
        canonical: `${n}@x.example`,
        email: `${n}@x.example`,
        name: n,
        zone: "UTC",
        source: "test",
        confirmed: false,
      })),
      t.at(),
    ),
  )

it("an effect for many puts its tags on each of them, one happening each, and never a second time", async () => {
  const people = [...(await newcomers(["tagged-a", "tagged-b", "tagged-c"])).values()]
  const tags = await Promise.all(["calm", "keen"].map((name) => t.s.db.insert("tag", { name })))
  const effects = tags.map(({ id: tag }, id) => ({ id, kind: "tag-on" as const, settings: { tag }, name: "a tag" }))
  const about = { at: t.at(), origin: "hand", funnel: null }
  await t.s.db.transaction((tx) => performAll(tx, effects, people.slice(0, 1), about))
  for (const some of [effects, effects.slice(0, 1)])
    await t.s.db.transaction((tx) => performAll(tx, some, people, about))
  for (const sql of [
    "SELECT COUNT(*) AS n FROM person_tag WHERE person_id IN (?)",
    "SELECT COUNT(*) AS n FROM fact WHERE kind = 'tagged' AND person_id IN (?)",
  ])
    expect(await t.s.db.row(sql, [people])).toEqual({ n: 6 })
})

describe("letting in", () => {
  /** What stands of a person after they were let in, without numbers. */
  async function left(person: number) {
    const one = (sql: string) => t.s.db.rows(sql, [person])
    return {
      admission: await one("SELECT course_id, module_id, origin, from_at, until_at FROM admission WHERE person_id = ?"),
      presence: await one("SELECT course_id, last_at, away_at FROM presence WHERE person_id = ?"),
      opening: await one("SELECT course_id, since_at, due_at FROM opening WHERE person_id = ?"),
      facts: await one("SELECT kind, at, subject_id, words FROM fact WHERE person_id = ? ORDER BY id"),
    }
  }

  it("of many at once leaves the same as of each by itself, and tells the same", async () => {
    const ids = await newcomers(["one", "two", "three", "four"])
    const [a, b, c, d] = ["one", "two", "three", "four"].map((n) => ids.get(`${n}@x.example`)!)
    const given = { opens: { course }, origin: "hand", at: t.at(), title: "First" }
    expect(await t.s.db.transaction((tx) => admitAll(tx, [a!, b!, c!], given))).toEqual(new Set([a, b, c]))
    await t.s.db.transaction((tx) => admit(tx, { ...given, person: d! }))
    const alone = await left(d!)
    expect(alone.presence).toHaveLength(1)
    expect(alone.opening).toHaveLength(1)
    expect(alone.facts).toHaveLength(1)
    for (const person of [a!, b!, c!]) expect(await left(person)).toEqual(alone)
  })

  it("gives those for whom it is new, and changes nothing for the others", async () => {
    const ids = [...(await newcomers(["five", "six"])).values()]
    const given = { opens: { course }, origin: "hand:aa", at: t.at(), title: "First" }
    await t.s.db.transaction((tx) => admitAll(tx, [ids[0]!], given))
    expect(await t.s.db.transaction((tx) => admitAll(tx, ids, given))).toEqual(new Set([ids[1]]))
    expect(await t.s.db.transaction((tx) => admitAll(tx, ids, given))).toEqual(new Set())
    expect(await t.s.db.transaction((tx) => admitAll(tx, [], given))).toEqual(new Set())
    expect(await t.s.db.transaction((tx) => admitAll(tx, ids, { ...given, opens: { course: 9_999 } }))).toEqual(
      new Set(),
    )
    const facts = await t.s.db.rows("SELECT person_id FROM fact WHERE kind = 'admitted' AND person_id IN (?)", [ids])
    expect(facts).toHaveLength(2)
  })

  it("mails each a link of their own, and somebody with two addresses one", async () => {
    const ids = await newcomers(["seven", "eight"])
    await t.s.db.transaction((tx) =>
      queueWaysIn(
        tx,
        [...ids].map(([email, person]) => ({ person, email, name: "", leadsTo: "/learn", at: t.at() })),
        "let-in",
      ),
    )
    const mails = await t.s.db.rows<{ to_email: string; person_id: number; of: number }>(
      "SELECT m.to_email, m.person_id, w.person_id AS `of` FROM mail m JOIN way_in w ON w.id = m.way_in_id WHERE m.person_id IN (?)",
      [[...ids.values()]],
    )
    expect(mails.map((m) => [m.to_email, m.person_id === m.of])).toEqual([
      ["seven@x.example", true],
      ["eight@x.example", true],
    ])
    const seven = ids.get("seven@x.example")!
    await t.s.db.write(
      "INSERT INTO address (person_id, email, canonical) VALUES (?, 'sev@x.example', 'sev@x.example')",
      [seven],
    )
    const done = await letPeopleIn(t.s, { course, people: "seven@x.example\nsev@x.example", until: null, tells: true })
    expect("results" in done && done.results.map((r) => [r.came, r.person])).toEqual([
      ["let-in", seven],
      ["let-in", seven],
    ])
    expect(await t.s.db.rows("SELECT 1 FROM mail WHERE person_id = ? AND kind = 'let-in'", [seven])).toHaveLength(2)
  })
})

describe("a course", () => {
  it("copied, keeps who may sign up, after how many days somebody counts as away, and where it leads", async () => {
    const step = (await t.s.db.row<{ id: number }>("SELECT id FROM step LIMIT 1"))!.id
    await saveCourse(t.s, { course, signingUp: false, leaveStep: step })
    const made = await copyCourse(t.s, course)
    if ("refused" in made) throw new Error(made.refused)
    expect(
      await t.s.db.row("SELECT signing_up, away_days, leave_step_id, state FROM course WHERE id = ?", [made.id]),
    ).toEqual({ signing_up: 0, away_days: 5, leave_step_id: step, state: "draft" })
    await saveCourse(t.s, { course, signingUp: true, leaveStep: null })
  })

  it("seen as somebody marks nothing, and shows what is open to them alone", async () => {
    const before = await t.s.db.rows("SELECT COUNT(*) AS n FROM lesson_seen")
    const newcomer = (await courseSeenAs(t.s, course, { as: "learner", days: 0 }))!
    const third = (await courseSeenAs(t.s, course, { as: "learner", days: 4 }))!
    expect(await lessonSeenAs(t.s.db, newcomer, newcomer.lessons[0]!)).toBeUndefined()
    expect(await lessonSeenAs(t.s.db, third, third.lessons[0]!)).toMatchObject({ page: { title: "Lesson 1" } })
    expect(await t.s.db.rows("SELECT COUNT(*) AS n FROM lesson_seen")).toEqual(before)
    expect(await saveModule(t.s, 9_999, null)).toMatchObject({ refused: expect.any(String) })
  })

  it("lists quizzes that were tried and passed, and hand-ins that wait, in the room and as CSV", async () => {
    const [person] = [...(await newcomers(["nine"])).values()]
    await t.s.db.transaction((tx) =>
      admit(tx, { person: person!, opens: { course }, origin: "hand", at: t.at() - 10 * 86_400_000, title: "First" }),
    )
    const lesson = (await courseFor(t.s, { person: person!, scope: null }, "first"))!.lessons[0]!.id
    await openLesson(t.s, { person: person!, scope: null }, "first", lesson)
    for (const [block, n, passed] of [
      ["a", 1, 0],
      ["a", 2, 1],
      ["b", 1, 0],
    ] as const)
      await t.s.db.write(
        "INSERT INTO quiz_try (person_id, lesson_id, block, n, answers, points, of_points, passed, at) VALUES (?, ?, ?, ?, '{}', 0, 1, ?, NOW())",
        [person, lesson, block, n, passed],
      )
    await t.s.db.write(
      "INSERT INTO hand_in (person_id, lesson_id, block, body, state, at) VALUES (?, ?, 'w', 'x', 'waiting', NOW())",
      [person, lesson],
    )
    const { members } = await listMembers(t.s, { ...everybody(), search: "nine" })
    expect(members).toMatchObject([{ tried: 2, passed: 1, waiting: 1, done: 0 }])
    let text = ""
    for await (const part of exportMembers(t.s, { ...everybody(), search: "nine" })) text += part
    expect(text.split("\r\n")[0]).toContain("quizzes passed,quizzes tried,hand-ins waiting")
    expect(text).toContain(",0,1,2,1,")
  })
})
