// What learners say and who teaches: shown on pages only where somebody agreed and the school chose it, and gone when it is taken back.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { watchLive } from "@/front/live"
import { courseFigures } from "@/server/course/figures"
import {
  addQuote,
  chooseQuote,
  ownQuote,
  portrayQuote,
  quotesOfCourse,
  quotesShown,
  sayOfCourse,
  takeQuoteBack,
} from "@/server/course/quote"
import { listTeachers, newTeacher, removeTeacher, saveTeacher, teacherCards } from "@/server/course/teacher"
import { buy, openShop, type Shop } from "../support/shop"

let shop: Shop
let person: number
beforeAll(async () => {
  shop = await openShop("quote")
  const { order } = await buy(shop, "fine")
  person = order.person_id!
})
afterAll(() => shop.end())

const s = () => shop.t.s
const said = (more: object = {}) => ({
  course: shop.course,
  words: "Gone in a week.",
  name: "Hana",
  agrees: true,
  consent: "ticked",
  ...more,
})

describe("what a learner says", () => {
  it("is taken only with consent, and with words", async () => {
    expect(await sayOfCourse(s(), person, said({ agrees: false }))).toMatchObject({ field: "agrees" })
    expect(await sayOfCourse(s(), person, said({ words: "  " }))).toMatchObject({ field: "words" })
    expect(await sayOfCourse(s(), person, said({ words: "x".repeat(601) }))).toMatchObject({ field: "words" })
    expect(await quotesOfCourse(s().db, shop.course)).toEqual([])
  })

  it("is shown to nobody before it is chosen, and once more after it was changed", async () => {
    expect(await sayOfCourse(s(), person, said())).toEqual({ ok: true })
    expect(await quotesShown(s().db)).toEqual({})
    const [quote] = await quotesOfCourse(s().db, shop.course)
    expect(quote).toMatchObject({ state: "new", person_id: person, words: "Gone in a week." })
    await chooseQuote(s(), quote!.id, true)
    expect(await quotesShown(s().db)).toEqual({
      [shop.course]: [{ words: "Gone in a week.", name: "Hana", portrait: null }],
    })
    await sayOfCourse(s(), person, said({ words: "The second I hid.", name: "" }))
    expect(await quotesShown(s().db)).toEqual({})
    expect(await ownQuote(s().db, person, shop.course)).toEqual({ words: "The second I hid.", name: "" })
    expect(await quotesOfCourse(s().db, shop.course)).toHaveLength(1)
  })

  it("stands on the page at once when it is chosen, and is gone from it when it is taken back", async () => {
    const live = watchLive(s())
    const page = async () => {
      await live.refresh()
      return live.page("a-year")!.bodies.identity.toString()
    }
    const [quote] = await quotesOfCourse(s().db, shop.course)
    await chooseQuote(s(), quote!.id, true)
    expect(await page()).toContain("“The second I hid.”")
    expect(await page()).toContain("A learner")
    await takeQuoteBack(s(), person, shop.course)
    await new Promise((r) => setTimeout(r, 1_000))
    expect(await page()).not.toContain("The second I hid.")
    live.stop()
  })

  it("can be typed in with how the school knows that it may be shown, and has a picture only of its own", async () => {
    const typed = { course: shop.course, words: "Good.", name: "Zora", media: null }
    expect(await addQuote(s(), { ...typed, consent: "" })).toMatchObject({ field: "consent" })
    expect(await addQuote(s(), { ...typed, course: 4711, consent: "by e-mail" })).toHaveProperty("refused")
    expect(await addQuote(s(), { ...typed, consent: "by e-mail" })).toEqual({ ok: true })
    const [quote] = await quotesOfCourse(s().db, shop.course)
    expect(await portrayQuote(s(), quote!.id, 4711)).toHaveProperty("refused")
    expect(Object.values(await quotesShown(s().db)).flat()).toHaveLength(1)
  })
})

it("numbers of a course are counted: people once, lessons that are live, and their time", async () => {
  const figures = (await courseFigures(s().db, await s().clock.now()))[shop.course]!
  expect(figures).toMatchObject({ learners: 1, lately: 1, lessons: 1 })
  expect(figures.hours).toBeCloseTo(5 / 60, 6)
  expect(figures.rating).toBeNull()
})

describe("a teacher", () => {
  it("has a name, is changed in two windows at once, and goes", async () => {
    expect(await newTeacher(s(), { name: " ", about: "", media: null })).toMatchObject({ field: "name" })
    const made = await newTeacher(s(), { name: "Maren", about: "Fifteen years", media: null })
    if ("refused" in made) throw new Error(made.refused)
    const [before] = await listTeachers(s().db)
    const mine = await saveTeacher(s(), made.id, { ...before!.value, about: "Sixteen years" }, before)
    expect(mine).toMatchObject({ value: { about: "Sixteen years" } })
    expect(await saveTeacher(s(), made.id, { ...before!.value, name: "Maren S." }, before)).toMatchObject({
      value: { name: "Maren S.", about: "Sixteen years" },
    })
    expect(await saveTeacher(s(), made.id, { ...before!.value, about: "Ten" }, before)).toHaveProperty("clash")
    expect((await teacherCards(s().db)).get(made.id)).toEqual({
      name: "Maren S.",
      about: "Sixteen years",
      portrait: null,
    })
    await removeTeacher(s(), made.id)
    expect(await listTeachers(s().db)).toEqual([])
    expect(await saveTeacher(s(), made.id, before!.value)).toHaveProperty("refused")
  })
})
