// What stands at `/`, how it is shown elsewhere; and imprint, privacy and terms: a beginning of what is set, saved as it is typed, seen when published, and linked everywhere.
import { afterAll, beforeAll, expect, test } from "vitest"
import { legalKinds, legalLacks, legalSkeleton } from "@/core/page/legal"
import { newTeacher } from "@/server/course/teacher"
import { footEverywhere, unpublishFunnel } from "@/server/funnel/release"
import { legalFacts, putUpLegal, readLegal, saveLegal, takeDownLegal, unwrittenLegal } from "@/server/page/legal"
import { cleanRichText } from "@/server/page/rich-text"
import { readSchool, saveSchool } from "@/server/school"
import { openFront, type TestFront } from "../support/front"
import { openShop, type Shop } from "../support/shop"

let shop: Shop
let front: TestFront
beforeAll(async () => {
  shop = await openShop("legal")
  front = await openFront(shop.t.s)
})
afterAll(async () => {
  await front.stop()
  await shop.t.end()
})

const live = () => front.web.front.live
const get = (path: string) => front.get(path)
const s = () => shop.t.s

test("a beginning says what is set and nothing else, and is what the editor can hold", async () => {
  const facts = await legalFacts(s())
  for (const kind of legalKinds) {
    const text = legalSkeleton(kind, facts)
    expect(text).toContain(facts.name)
    expect(cleanRichText(text)).toBe(text)
    expect(text).not.toMatch(/undefined|null|\[|\]|…/)
  }
  const terms = (days: number | null) =>
    legalSkeleton("terms", { ...facts, sells: true, refunds: [{ name: "A & B", days }] })
  expect(terms(30)).toContain("A &amp; B: within 30 days you get your money back.")
  expect(terms(1)).toContain("within 1 day you")
  expect(terms(null)).toContain("No refund is promised here")
  expect(legalSkeleton("terms", { ...facts, sells: false })).not.toContain("Prices")
  expect(legalSkeleton("privacy", { ...facts, mentionDays: 45 })).toContain("remembered for 45 days")
  expect(legalSkeleton("privacy", { ...facts, mentionDays: null })).not.toContain("recommendation")
  expect(legalLacks({ ...facts, postalAddress: "", email: "" })).toHaveLength(2)
  expect(legalSkeleton("imprint", { ...facts, postalAddress: "" })).not.toContain(", <")
})

test("it is seen when it is published, and linked at the foot of every page; what is typed since isn't", async () => {
  expect((await get("/imprint")).status).toBe(404)
  expect(await unwrittenLegal(s().db)).toEqual(["Imprint", "Privacy", "Terms"])
  const saved = await saveLegal(s(), "imprint", { html: "<p>Maren</p><script>alert(1)</script>" })
  expect(saved).toMatchObject({ value: { html: "<p>Maren</p>" } })
  expect((await get("/imprint")).status).toBe(404)
  expect(await putUpLegal(s(), "imprint")).toEqual({ first: true })
  await footEverywhere(s())
  await saveLegal(s(), "imprint", { html: "<p>Somebody else</p>" })
  await live().refresh()
  const page = await get("/imprint")
  expect(page.status).toBe(200)
  const html = await page.text()
  expect(html).toContain("<p>Maren</p>")
  expect(html).not.toContain("Somebody else")
  expect((await readLegal(s().db))[0]).toMatchObject({ kind: "imprint", same: false })
  const path = [...live().entries()][0]!
  for (const at of [`/${path}`, "/imprint", "/nothing-here"])
    expect(await (await get(at)).text(), at).toContain('<a href="/imprint">Imprint</a>')
  expect(await (await get("/sitemap.xml")).text()).toContain("/imprint</loc>")
  expect(await putUpLegal(s(), "imprint")).toEqual({ first: false })
})

test("it goes again, with its links; what isn't one, or is empty, is refused", async () => {
  await takeDownLegal(s(), "imprint")
  await footEverywhere(s())
  await live().refresh()
  expect((await get("/imprint")).status).toBe(404)
  expect(await (await get("/nothing-here")).text()).not.toContain("/imprint")
  await saveLegal(s(), "terms", { html: "<p> </p>" })
  for (const none of ["terms", "privacy", "studio", null]) expect(await putUpLegal(s(), none)).toHaveProperty("refused")
  expect(await saveLegal(s(), "studio", { html: "" })).toHaveProperty("refused")
  expect(await saveLegal(s(), "terms", { html: "x".repeat(200_001) })).toHaveProperty("refused")
})

test("two windows that change the same are told", async () => {
  const first = await saveLegal(s(), "privacy", { html: "<p>One</p>" })
  if (!("value" in first)) throw new Error("refused")
  await saveLegal(s(), "privacy", { html: "<p>Two</p>" }, { revision: first.revision, value: first.value })
  expect(
    await saveLegal(s(), "privacy", { html: "<p>Three</p>" }, { revision: first.revision, value: first.value }),
  ).toMatchObject({ clash: ["html"] })
})

test("a link to a page without a picture is shown by one that is drawn of its title; of no other release, and no other page", async () => {
  const path = live()
    .entries()
    .find((p) => p !== "imprint")!
  const html = await (await get(`/${path}`)).text()
  const [, picture] = /property="og:image" content="[^"]*?(\/previews\/[^"]+)"/.exec(html) ?? []
  const res = await get(picture!)
  expect([res.status, res.headers.get("content-type")]).toEqual([200, "image/jpeg"])
  expect((await res.arrayBuffer()).byteLength).toBeGreaterThan(5_000)
  const [release, step] = /(\d+)-(\d+)/.exec(picture!)!.slice(1).map(Number)
  for (const other of [`${release! + 1}-${step}.jpg`, `${release}-999.jpg`, "x.jpg", "../../etc.jpg"])
    expect((await get(`/previews/${other}`)).status, other).toBe(404)
})

test("at the school's own address stands what is live, or the page that was chosen", async () => {
  await newTeacher(s(), { name: "Maren Solvik", about: "She pickles.\nAnd more.", media: null })
  const made = await (await get("/")).text()
  expect(made).toContain("She pickles.")
  const begins = live().beginnings()
  expect(begins.length).toBeGreaterThan(0)
  for (const b of begins) expect(made).toContain(`href="/${b.path}"`)
  const sold = begins.find((b) => b.sells !== null)!
  expect(made).toContain(live().offers()[sold.sells!]!.ways[0]!.amount)
  expect(made.match(/<h1/g)).toHaveLength(1)
  const school = await readSchool(s().db)
  expect(await saveSchool(s(), { ...school.value, front: shop.funnel })).not.toHaveProperty("refused")
  await live().refresh()
  const chosen = await (await get("/")).text()
  expect(chosen).toBe(await (await get(`/${live().front()}`)).text())
  // One that isn't live any more gives way to the front page.
  await unpublishFunnel(s(), shop.funnel)
  await live().refresh()
  expect(await (await get("/")).text()).toContain("She pickles.")
  // Where something stood that was taken down, that is said (RFC 9110, 15.5.11), and both answers lead on.
  const stood = await get(`/${begins[0]!.path}`)
  expect([stood.status, (await get("/never-here")).status]).toEqual([410, 404])
  for (const page of [await stood.text(), await (await get("/never-here")).text()]) {
    expect(page).toContain('href="/"')
    expect(page).toContain('content="noindex"')
  }
  expect(await saveSchool(s(), { ...school.value, front: 4711 })).toMatchObject({ value: { front: null } })
})
