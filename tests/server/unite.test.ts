// "I bought with another address": two persons become one, and two again within a week.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { markDone } from "@/server/course/in-lesson"
import { myCourse, myCourses } from "@/server/course/learn"
import { letPeopleIn } from "@/server/course/let-in"
import { listMembers } from "@/server/course/members"
import { setLearnerPassword, signInLearner } from "@/server/person/learner"
import { personStory } from "@/server/person/people"
import { admittedOf, beginSession } from "@/server/person/session"
import { otherPerson, partPersons, unite, unitedLately } from "@/server/person/unite"
import { countsBy, rollTally } from "@/server/tally"
import { buy, openShop, type Shop } from "../support/shop"

let shop: Shop
beforeAll(async () => {
  shop = await openShop("unite")
})
afterAll(() => shop.t.end())

const s = () => shop.t.s
const personOf = async (email: string) =>
  (await s().db.row<{ id: number }>("SELECT person_id AS id FROM address WHERE canonical = ?", [email]))!.id
const learners = async (course: number) => {
  while ((await rollTally(s())) > 0);
  return (await countsBy(s().db, "learners")).get(course) ?? 0
}

describe("two who are one", () => {
  it("have everything together, one story, and both addresses sign in", async () => {
    const first = await buy(shop, "fine", { email: "ana@work.example" })
    const work = first.order.person_id!
    const { course_id: course } = (await s().db.row<{ course_id: number }>(
      "SELECT course_id FROM admission WHERE person_id = ? AND course_id IS NOT NULL LIMIT 1",
      [work],
    ))!
    await letPeopleIn(s(), { course, module: null, people: "ana@home.example", until: null, tells: false })
    const home = await personOf("ana@home.example")
    const [one] = await myCourses(s(), { person: work, scope: null })
    await markDone(s(), { person: work, scope: null }, one!.slug, one!.lessons[0]!.id, true)
    const token = await beginSession(s().db, "learn", work)
    await setLearnerPassword(s(), { person: home, scope: null }, {}, { next: "a jar for each" })
    const before = {
      home: await personStory(s().db, home),
      work: await personStory(s().db, work),
      learners: await learners(course),
    }

    expect(await otherPerson(s().db, home, "ANA@work.example")).toMatchObject({ id: work, orders: 1 })
    expect(await otherPerson(s().db, home, "ana@home.example")).toMatchObject({ refused: expect.any(String) })
    expect(await otherPerson(s().db, home, "nobody@x.example")).toMatchObject({ refused: expect.any(String) })
    expect(await unite(s(), home, home)).toMatchObject({ refused: expect.any(String) })
    expect(await unite(s(), home, 99_999)).toMatchObject({ refused: expect.any(String) })
    expect(await unite(s(), home, work)).toEqual({ ok: true })

    const now = (await personStory(s().db, home))!
    expect(now.addresses.map((a) => a.email).sort()).toEqual(["ana@home.example", "ana@work.example"])
    expect(now.orders).toHaveLength(1)
    expect(now.admissions).toHaveLength(before.home!.admissions.length + before.work!.admissions.length)
    expect(now.facts.map((f) => f.kind)).toEqual(expect.arrayContaining(["bought", "lesson-done", "united"]))
    expect((await myCourse(s(), { person: home, scope: null }, one!.slug))!.done.size).toBe(1)
    expect(await admittedOf(s().db, token)).toBeNull()
    expect(
      await signInLearner(s(), { email: "ana@work.example", password: "a jar for each", ip: "10.0.0.1" }),
    ).toHaveProperty("session")
    expect(await learners(course)).toBe(before.learners - 1)
    expect((await listMembers(s(), { course, search: "ana@", only: "", page: 0 })).total).toBe(1)
    expect(await unite(s(), home, work)).toMatchObject({ refused: expect.any(String) })

    // And apart again: each has what was theirs.
    const [joined] = await unitedLately(s(), home)
    expect(joined).toMatchObject({ email: "ana@work.example" })
    expect(await partPersons(s(), joined!.id)).toEqual({ ok: true })
    const [h, w] = [(await personStory(s().db, home))!, (await personStory(s().db, work))!]
    expect(w.addresses).toEqual(before.work!.addresses)
    expect(w.orders).toEqual(before.work!.orders)
    expect(w.admissions).toEqual(before.work!.admissions)
    expect(w.facts).toEqual(before.work!.facts)
    expect(h.admissions).toEqual(before.home!.admissions)
    expect(h.facts.at(-1)!.kind).toBe("parted")
    expect(await learners(course)).toBe(before.learners)
    expect(await partPersons(s(), joined!.id)).toMatchObject({ refused: expect.any(String) })
  })

  it("stay one after a week, and keep what both had", async () => {
    const first = await buy(shop, "fine", { email: "ivo@a.example" })
    const second = await buy(shop, "fine", { email: "ivo@b.example" })
    const [a, b] = [first.order.person_id!, second.order.person_id!]
    await s().db.write("INSERT INTO tag (name) VALUES ('both')")
    await s().db.write(
      "INSERT INTO person_tag SELECT p.id, t.id, p.joined_at, p.joined_at FROM person p JOIN tag t ON t.name = 'both' WHERE p.id IN (?)",
      [[a, b]],
    )
    expect(await unite(s(), a, b)).toEqual({ ok: true })
    expect((await personStory(s().db, a))!.tags).toEqual(["both"])
    expect((await personStory(s().db, a))!.orders).toHaveLength(2)
    const [joined] = await unitedLately(s(), a)
    shop.t.set(shop.t.at() + 8 * 86_400_000)
    expect(await unitedLately(s(), a)).toEqual([])
    expect(await partPersons(s(), joined!.id)).toMatchObject({ refused: expect.any(String) })
  })
})
