// Proved and half proved: what is somebody's own wants it proved that they are here. A device that is known by an order may be
// anybody who typed the address, and so may whoever is somebody already, but elsewhere.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import {
  affiliateById,
  answerName,
  approveAffiliate,
  changeAffiliate,
  joinProgramme,
} from "@/server/affiliate/affiliate"
import { partsFor } from "@/server/affiliate/portal"
import { actingAs } from "@/server/context"
import { saveLesson } from "@/server/course/course"
import { handIn } from "@/server/course/hand-in"
import { markDone } from "@/server/course/in-lesson"
import { myCourse } from "@/server/course/learn"
import { newInvitation, takeInvitation } from "@/server/course/let-in"
import { askQuizzes } from "@/server/course/quiz"
import { answerSurvey } from "@/server/course/survey"
import { addComment, removeComment, saveNote } from "@/server/course/talk"
import { sendDue } from "@/server/mail/send"
import { askAddressChange } from "@/server/person/address-change"
import { setLearnerPassword } from "@/server/person/learner"
import type { OrderDevice } from "@/server/person/session"
import { askWayIn } from "@/server/person/way-in"
import { firstProgramme, saveProgramme } from "@/server/programme/programme"
import { sign } from "@/server/sign"
import { buy, openShop, type Shop } from "../support/shop"

let shop: Shop
beforeAll(async () => {
  shop = await openShop("proved")
})
afterAll(() => shop.end())
const s = () => shop.t.s

it("what is a learner's own doesn't compile for a device that is known by an order", () => {
  const device: OrderDevice = { buyer: 1, scope: "1" }
  const at = { slug: "year", lesson: 1, block: "b" }
  // Nothing of this runs: the compiler is asked, and finds each line wrong.
  void (() => [
    // @ts-expect-error its owner's comments, and the teacher's answers to them
    removeComment(s(), device, 1),
    // @ts-expect-error
    addComment(s(), device, { slug: "year", lesson: 1, answers: null }, "x"),
    // @ts-expect-error
    saveNote(s(), device, "year", 1, "x"),
    // @ts-expect-error how its owner's tries went
    askQuizzes(s().db, {} as never, device),
    // @ts-expect-error
    answerSurvey(s(), device, at, {}),
    // @ts-expect-error
    handIn(s(), device, at, {}),
    // @ts-expect-error
    askAddressChange(s(), device, "x@y.example"),
    // @ts-expect-error
    setLearnerPassword(s(), device, {}, {}),
  ])
})

describe("a lesson", () => {
  it.each(["opened", "watched", "accepted", "passed"] as const)(
    "done when %s isn't done by a press",
    async (doneBy) => {
      const { order } = await buy(shop, "fine", { email: `${doneBy}@post.example` })
      const who = { person: order.person_id!, scope: null }
      const course = (await myCourse(s(), who, "year"))!
      const lesson = course.lessons[0]!.id
      expect(await saveLesson(s(), { lesson, doneBy })).toHaveProperty("revision")
      expect(await markDone(s(), who, "year", lesson, true)).toBe(false)
      expect((await myCourse(s(), who, "year"))!.done.has(lesson)).toBe(false)
      await saveLesson(s(), { lesson, doneBy: "pressed" })
      expect(await markDone(s(), who, "year", lesson, true)).toBe(true)
    },
  )
})

describe("an affiliate", () => {
  const programme = async (offer: number, approve: "at-once" | "by-hand") =>
    expect(
      await saveProgramme(s(), offer, {
        ...firstProgramme,
        on: true,
        approve,
      }),
    ).toHaveProperty("revision")

  it("of one programme waits for another that approves by hand, and earns nothing by it meanwhile", async () => {
    await programme(shop.offers.main, "at-once")
    await programme(shop.offers.further, "by-hand")
    const { order } = await buy(shop, "fine", { email: "gwen@post.example" })
    const join = (offer: number) =>
      s().db.transaction((tx) =>
        joinProgramme(tx, { person: order.person_id!, offer, version: 0, source: "page", at: shop.t.at() }),
      )
    const first = await join(shop.offers.main)
    expect(first).toMatchObject({ state: "active" })
    const { affiliate } = first as { affiliate: number }
    expect(await join(shop.offers.further)).toMatchObject({ affiliate, state: "asked" })
    expect(await join(shop.offers.further)).toMatchObject({ state: "asked" })
    const parts = async () => (await partsFor(s().db, affiliate, shop.t.at())).map((p) => p.programme.offer)
    expect(await parts()).toEqual([shop.offers.main])
    expect(await approveAffiliate(s(), affiliate)).toEqual({ ok: true })
    expect(await parts()).toEqual([shop.offers.main, shop.offers.further].sort((a, b) => a - b))
  })

  it("has a name that mails may say, and a new one when the school has said yes", async () => {
    const { id, code } = (await s().db.row<{ id: number; code: string }>("SELECT id, code FROM affiliate LIMIT 1"))!
    const themselves = actingAs(s(), { is: "affiliate", id })
    const change = (name: string) => changeAffiliate(themselves, id, { name, shown: true, code })
    expect(await change("Buy at cheap-jars.example now")).toMatchObject({ field: "name" })
    expect(await change("Gwen of the Jars")).toEqual({ ok: true })
    expect(await affiliateById(s().db, id)).toMatchObject({ name: "Ines", wantedName: "Gwen of the Jars" })
    await answerName(s(), id, false)
    expect(await affiliateById(s().db, id)).toMatchObject({ name: "Ines", wantedName: null })
    await change("Gwen of the Jars")
    await answerName(s(), id, true)
    expect(await affiliateById(s().db, id)).toMatchObject({ name: "Gwen of the Jars", wantedName: null })
  })
})

it("an invitation writes to an address as seldom as the sign-in page", async () => {
  const made = await newInvitation(s(), {
    course: shop.course,
    module: null,
    media: null,
    name: "A fair",
    most: 50,
    days: null,
    until: null,
  })
  if ("refused" in made) throw new Error(made.refused)
  const row = await s().db.row<{ id: number }>("SELECT MAX(id) AS id FROM invitation")
  const key = sign(s().config.secret, "invitation", String(row!.id))
  for (let i = 0; i < 6; i++) {
    expect(await takeInvitation(s(), key, { email: "hers@post.example", name: "" }, `10.9.0.${i}`)).toEqual({
      ok: true,
    })
    await askWayIn(s(), "hers@post.example", `10.9.1.${i}`, "/learn")
  }
  await sendDue(s(), "w")
  expect(shop.t.sent.filter((m) => m.to.address === "hers@post.example")).toHaveLength(1)
})
