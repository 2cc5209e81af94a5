// What a programme lacks: each finding comes when it should, and goes when it is mended.
import { afterAll, beforeAll, expect, it } from "vitest"
import { affiliateById } from "@/server/affiliate/affiliate"
import { addAffiliate } from "@/server/affiliate/come"
import { makeLink } from "@/server/affiliate/portal"
import { unpublishFunnel } from "@/server/funnel/release"
import { changeCoupon, endCoupon, makeCoupon } from "@/server/offer/coupon"
import { checkProgramme, programmeFacts } from "@/server/programme/check"
import {
  firstProgramme,
  programmeInput,
  programmeOf,
  publishConditions,
  saveMaterial,
  saveProgramme,
} from "@/server/programme/programme"
import { openShop, type Shop } from "../support/shop"

let shop: Shop
beforeAll(async () => {
  shop = await openShop("programme-check")
  await saveProgramme(shop.t.s, shop.offers.main, firstProgramme)
})
afterAll(() => shop.end())

const s = () => shop.t.s
const offer = () => shop.offers.main
const programme = async () => (await programmeOf(s().db, offer()))!
const says = async () => (await checkProgramme(s().db, shop.t.at(), await programme())).map((f) => f.says)
const coupon = (code: string, percent: number, affiliate = "") => ({
  code,
  givenOut: "a letter",
  kind: "percent",
  value: percent * 100,
  currency: null,
  on: "first",
  offers: [offer()],
  from: null,
  until: null,
  usesInAll: null,
  usesPerPerson: null,
  affiliate,
})
const idOf = (made: { id: number } | { refused: string }) => {
  if ("refused" in made) throw new Error(made.refused)
  return made.id
}

it("one that is off lacks nothing; one that is on wants words to copy and conditions", async () => {
  expect(await says()).toEqual([])
  await saveProgramme(s(), offer(), { ...programmeInput(await programme()), on: true })
  const lacks = await says()
  expect(lacks).toHaveLength(2)
  expect((await programmeFacts(s().db, shop.t.at())).get(offer())).toMatchObject({ on: true, lacks })
  await saveMaterial(s(), offer(), { id: null, kind: "words", title: "Short", words: "Look", media: null, step: null })
  await publishConditions(s(), offer(), "Be honest.")
  expect(await says()).toEqual([])
})

it("a commission that a coupon eats up, and a coupon of an affiliate that is over while they have no other", async () => {
  await saveProgramme(s(), offer(), { ...programmeInput(await programme()), rate: { kind: "amount", value: 10_000 } })
  expect(await says()).toEqual([])
  const half = idOf(await makeCoupon(s(), coupon("MOSTOFF", 80)))
  expect((await says()).join()).toContain("MOSTOFF")
  expect(await changeCoupon(s(), half, coupon("MOSTOFF", 10))).toHaveProperty("id")
  expect(await says()).toEqual([])
  const ada = await addAffiliate(s(), { email: "ada@fern.example", name: "Ada Fern", offer: offer(), atOnce: true })
  if ("refused" in ada) throw new Error(ada.refused)
  expect(await makeCoupon(s(), coupon("NOBODYS", 10, "no-such-code"))).toMatchObject({ field: "affiliate" })
  const first = idOf(await makeCoupon(s(), coupon("ADA1", 10, "ada-fern")))
  expect(await says()).toEqual([])
  await endCoupon(s(), first)
  shop.t.set(shop.t.at() + 1000)
  expect((await says()).join()).toMatch(/ADA1.*Ada Fern|Ada Fern.*ADA1/)
  idOf(await makeCoupon(s(), coupon("ADA2", 10, "ada-fern")))
  expect(await says()).toEqual([])
})

it("ready words and links that lead to a page that was taken down", async () => {
  const ada = (await affiliateById(s().db, 1))!
  expect(await makeLink(s(), ada, { to: `step:${shop.step.sales}`, name: "Stall" })).not.toHaveProperty("refused")
  await saveMaterial(s(), offer(), {
    id: null,
    kind: "words",
    title: "To the sale",
    words: "Look: ‹my link›",
    media: null,
    step: shop.step.sales,
  })
  expect(await says()).toEqual([])
  await unpublishFunnel(s(), shop.funnel)
  const lacks = (await says()).join("\n")
  expect(lacks).toContain("To the sale")
  expect(lacks.split("\n").length).toBeGreaterThanOrEqual(3)
})
