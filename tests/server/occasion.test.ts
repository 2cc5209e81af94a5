// Effects that hang on an occasion of the school: what happens sets them off, once, in chains that end; and where things are
// used.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { actingAs } from "@/server/context"
import { openLesson } from "@/server/course/in-lesson"
import { myCourses } from "@/server/course/learn"
import { listEffects } from "@/server/funnel/effects-view"
import { addOnOccasion, effectsOn, removeOnOccasion } from "@/server/funnel/occasion"
import { refundStory } from "@/server/ledger/refund"
import { endSequence } from "@/server/mail/end"
import { makeCoupon } from "@/server/offer/coupon"
import { personStory } from "@/server/person/people"
import { newSegment, readSegment, saveSegment } from "@/server/person/segment"
import { listTags, mergeTags, putTagsOn, removeTag, renameTag, takeTagOff } from "@/server/person/tag"
import { usesOf } from "@/server/reference"
import { readToday } from "@/server/today"
import { buy, openShop, type Shop } from "../support/shop"

let shop: Shop
beforeAll(async () => {
  shop = await openShop("occasion")
})
afterAll(() => shop.end())
const s = () => shop.t.s
const tagId = async (name: string) =>
  (await s().db.row<{ id: number }>("SELECT id FROM tag WHERE name = ?", [name]))!.id
const tagsOf = async (person: number) => (await personStory(s().db, person))!.tags
const add = (occasion: string, of: number, what: object) => addOnOccasion(s(), { occasion, of, ...what })

describe("an occasion", () => {
  it("of an offer: whoever buys it is tagged, and whoever is given it back is not any more", async () => {
    expect(await add("bought", shop.offers.main, { kind: "tag-on", tag: "buyer" })).toEqual({ ok: true })
    expect(await add("refunded", shop.offers.main, { kind: "tag-off", tag: "buyer" })).toEqual({ ok: true })
    const { order } = await buy(shop, "fine")
    expect(await tagsOf(order.person_id!)).toEqual(["buyer"])
    const charge = (await s().db.row<{ id: number }>("SELECT id FROM charge WHERE order_id = ?", [order.id]))!
    await refundStory(s(), {
      story: order.id,
      once: "refund-00000000000000000001",
      access: "ends",
      why: "",
      items: [{ charge: charge.id, amount: order.gross }],
    })
    expect(await tagsOf(order.person_id!)).toEqual([])
  })

  it("of a coupon: whoever pays with it is tagged, and the list of effects says where", async () => {
    const made = await makeCoupon(s(), {
      code: "GARDEN",
      givenOut: "the letter",
      kind: "percent",
      value: 1000,
      currency: null,
      on: "first",
      offers: [],
      from: null,
      until: null,
      usesInAll: null,
      usesPerPerson: null,
    })
    if ("refused" in made) throw new Error(made.refused)
    expect(await add("coupon-used", made.id, { kind: "tag-on", tag: "by the letter" })).toEqual({ ok: true })
    expect((await listEffects(s().db)).map((e) => e.when)).toContain("buys with the coupon “GARDEN”")
    const [without, withIt] = [await buy(shop, "fine"), await buy(shop, "fine", { code: "garden" })]
    expect(await tagsOf(without.order.person_id!)).not.toContain("by the letter")
    expect(await tagsOf(withIt.order.person_id!)).toContain("by the letter")
    const facts = (await personStory(s().db, withIt.order.person_id!))!.facts
    expect(facts.map((f) => s().words.story[f.kind]?.(f))).toContain("used the coupon GARDEN")
  })

  it("of a lesson: the first look opens another course, by an origin of its own", async () => {
    const { order } = await buy(shop, "fine")
    const person = { person: order.person_id!, scope: null }
    const course = (await myCourses(s(), person))[0]!
    const lesson = course.lessons[0]!.id
    expect(await add("lesson-begun", lesson, { kind: "open-course", course: shop.extra })).toEqual({ ok: true })
    expect((await myCourses(s(), person)).map((c) => c.title)).toEqual(["A Year"])
    await openLesson(actingAs(s(), { is: "person", id: person.person, scope: null }), person, course.slug, lesson)
    expect((await myCourses(s(), person)).map((c) => c.title)).toEqual(["A Year", "Koji"])
    const [effect] = await effectsOn(s().db, "lesson-begun", lesson)
    expect(
      await s().db.row("SELECT origin FROM admission WHERE person_id = ? AND course_id = ?", [
        person.person,
        shop.extra,
      ]),
    ).toEqual({ origin: `effect:${effect!.id}` })
    const opened = await s().db.row("SELECT actor FROM fact WHERE kind = 'lesson-opened' AND person_id = ?", [
      person.person,
    ])
    expect(opened).toEqual({ actor: `person:${person.person}` })
  })

  it("goes on in chains, and one that never ends is stopped after twenty, with a word on Today", async () => {
    const { order } = await buy(shop, "fine")
    const person = order.person_id!
    await s().db.write("INSERT IGNORE INTO tag (name) VALUES ('to'), ('fro'), ('end')")
    const [to, fro] = [await tagId("to"), await tagId("fro")]
    await add("tagged", to, { kind: "tag-on", tag: "end" })
    const at = shop.t.at()
    await s().db.transaction((tx) => putTagsOn(tx, [{ person, tag: to, at, name: "to" }]))
    expect(await tagsOf(person)).toEqual(["buyer", "end", "to"])
    // Each puts the other on and itself off: they would go on for ever.
    await add("tagged", to, { kind: "tag-off", tag: "to" })
    expect(await add("untagged", to, { kind: "tag-on", tag: "to" })).toMatchObject({
      refused: expect.stringContaining("round without end"),
    })
    // One from before that was looked for.
    await s().db.write("INSERT INTO effect (occasion, kind, settings, on_tag_id) VALUES ('untagged', 'tag-on', ?, ?)", [
      JSON.stringify({ tag: to }),
      to,
    ])
    await s().db.transaction((tx) => takeTagOff(tx, { person, tag: to, at, name: "to" }))
    const facts = (await personStory(s().db, person))!.facts.map((f) => f.kind)
    expect(facts).toContain("chain-stopped")
    expect(facts.filter((k) => k === "tagged" || k === "untagged").length).toBeLessThan(30)
    expect((await readToday(s())).broken.map((b) => b.words).join()).toContain("in a circle")
    expect(fro).toBeGreaterThan(0)
  })

  it("begins a sequence as its funnel is published, once, or again where that was chosen and it had ended", async () => {
    const sequence = (await s().db.row<{ id: number }>("SELECT id FROM sequence"))!.id
    await s().db.write("INSERT IGNORE INTO tag (name) VALUES ('once'), ('often')")
    await add("tagged", await tagId("once"), { kind: "begin-sequence", sequence })
    await add("tagged", await tagId("often"), { kind: "begin-sequence", sequence, again: "ended" })
    const person = (await buy(shop, "fine")).order.person_id!
    const tag = async (name: string) => {
      const about = { person, tag: await tagId(name), at: shop.t.at(), name }
      await s().db.transaction((tx) => takeTagOff(tx, about))
      await s().db.transaction((tx) => putTagsOn(tx, [about]))
    }
    const runs = () =>
      s().db.rows("SELECT run, ended_at IS NOT NULL AS ended FROM enrolment WHERE person_id = ? ORDER BY run", [person])
    await tag("once")
    await tag("often") // still on their way: not a second time beside it
    expect(await runs()).toEqual([{ run: 1, ended: 0 }])
    await s().db.transaction((tx) => endSequence(tx, { person, sequence, why: "ended", at: shop.t.at() }))
    await tag("once")
    expect(await runs()).toEqual([{ run: 1, ended: 1 }])
    await tag("often")
    expect(await runs()).toEqual([
      { run: 1, ended: 1 },
      { run: 2, ended: 0 },
    ])
  })

  it("is refused twice, with what isn't there, and is taken away", async () => {
    expect(await add("bought", shop.offers.main, { kind: "tag-on", tag: "buyer" })).toMatchObject({
      refused: expect.stringContaining("already"),
    })
    expect(await add("bought", 9_999, { kind: "tag-on", tag: "x" })).toHaveProperty("refused")
    expect(await add("never", 1, { kind: "tag-on", tag: "x" })).toHaveProperty("refused")
    expect(await add("bought", shop.offers.main, { kind: "tag-on", tag: " " })).toHaveProperty("refused")
    expect(await add("bought", shop.offers.main, { kind: "begin-sequence", sequence: 99 })).toHaveProperty("refused")
    const [effect] = await effectsOn(s().db, "refunded", shop.offers.main)
    expect(await removeOnOccasion(s(), effect!.id)).toEqual({ ok: true })
    expect(await removeOnOccasion(s(), effect!.id)).toHaveProperty("refused")
  })
})

describe("one list", () => {
  it("says everything that is set off, at outcomes and on occasions", async () => {
    const list = await listEffects(s().db)
    expect(list.map((e) => [e.when, e.does])).toEqual(
      expect.arrayContaining([
        ["begins to pay and stops on “Checkout”", "begins “Began to pay and stopped”"],
        ["buys “A Year”", "tags “buyer”"],
        ["begins the lesson “Lesson 1”", "opens “Koji”"],
      ]),
    )
  })
})

describe("where something is used", () => {
  it("is told of an offer, a course, a sequence and a tag, and a tag goes with what it sets off", async () => {
    const says = async (to: Parameters<typeof usesOf>[1], id: number) =>
      (await usesOf(s().db, to, id)).map((u) => `${u.says} ${u.use}`)
    expect(await says("offer", shop.offers.main)).toEqual([
      "“A Year” in “A Year: sale” shows its price",
      "“A Year” in “A Year: sale” says how it is refunded",
      "“A Year” in “A Year: sale” shows its price in a bar",
      "“Checkout” in “A Year: sale” sells it",
      "“Checkout” in “A Year: sale” says how it is refunded",
    ])
    expect(await says("course", shop.course)).toEqual(
      expect.arrayContaining(["“Learning area” in “A Year: sale” leads to it", "the offer “A Year” gives it"]),
    )
    const sequence = (await s().db.row<{ id: number }>("SELECT id FROM sequence"))!.id
    expect((await says("sequence", sequence)).sort()).toEqual([
      "an effect of the school begins it",
      "an effect of the school begins it",
      "“Checkout” in “A Year: sale” begins it",
      "“Checkout” in “A Year: sale” ends it",
    ])
    const buyer = await tagId("buyer")
    expect(await says("tag", buyer)).toEqual(["an effect of the school puts it on"])
    await removeTag(s(), buyer)
    expect(await effectsOn(s().db, "bought", shop.offers.main)).toEqual([])
  })
})

describe("a tag", () => {
  it("is renamed, and merged: people, effects, questions and what is published mean the other from then on", async () => {
    const db = s().db
    const make = async (name: string) => (await db.write("INSERT INTO tag (name) VALUES (?)", [name])).id
    const [old, kept, third] = [await make("old"), await make("kept"), await make("third")]
    const { order } = await buy(shop, "fine")
    const person = order.person_id!
    await db.transaction((tx) => putTagsOn(tx, [{ person, tag: old, at: shop.t.at(), name: "old" }]))
    expect(await add("bought", shop.offers.main, { kind: "tag-on", tag: "old" })).toEqual({ ok: true })
    expect(await add("tagged", old, { kind: "tag-on", tag: "third" })).toEqual({ ok: true })
    const made = await newSegment(s(), "Old ones")
    if ("refused" in made) throw new Error(made.refused)
    await saveSegment(s(), made.id, {
      question: { match: "any", parts: [{ match: "all", not: true, parts: [{ kind: "tag", tag: old, has: true }] }] },
    })

    expect(await renameTag(s(), kept, "third")).toMatchObject({ field: "name" })
    expect(await renameTag(s(), kept, " Keen ")).toEqual({ ok: true })
    expect(await mergeTags(s(), old, old)).toMatchObject({ refused: expect.any(String) })
    expect(await mergeTags(s(), old, kept)).toEqual({ ok: true })
    expect(await mergeTags(s(), old, kept)).toMatchObject({ refused: expect.any(String) })

    expect(await tagsOf(person)).toEqual(["Keen"])
    expect((await listTags(db)).map((t) => [t.name, t.used])).toEqual(
      expect.arrayContaining([
        ["Keen", true],
        ["third", true],
      ]),
    )
    expect((await listTags(db)).map((t) => t.id)).not.toContain(old)
    expect((await usesOf(db, "tag", kept)).map((u) => u.says)).toEqual(
      expect.arrayContaining(["an effect of the school", "the segment “Old ones”"]),
    )
    expect((await readSegment(db, made.id))!.value.question).toEqual({
      match: "any",
      parts: [{ match: "all", not: true, parts: [{ kind: "tag", tag: kept, has: true }] }],
    })
    // What was published before still names the number that is gone; what hangs on it hangs on the other.
    const { order: next } = await buy(shop, "fine")
    await db.transaction((tx) => takeTagOff(tx, { person: next.person_id!, tag: kept, at: shop.t.at(), name: "Keen" }))
    await db.transaction((tx) => putTagsOn(tx, [{ person: next.person_id!, tag: old, at: shop.t.at(), name: "old" }]))
    expect([...(await tagsOf(next.person_id!))].sort()).toEqual(["Keen", "third"])
    // A chain of merges leads to its end.
    expect(await mergeTags(s(), kept, third)).toEqual({ ok: true })
    await db.transaction((tx) => putTagsOn(tx, [{ person, tag: old, at: shop.t.at(), name: "old" }]))
    expect(await tagsOf(person)).toEqual(["third"])
  })
})
