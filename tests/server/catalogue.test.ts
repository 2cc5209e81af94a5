// A catalogue: each thing leads to the page where it can be had now; for a course that isn't open somebody waits, and is told once.
import { afterAll, beforeAll, expect, test } from "vitest"
import { catalogueOf } from "@/core/page/block/catalogue"
import { saveCourse } from "@/server/course/course"
import { tellNow, waitingFor } from "@/server/course/waiting"
import { doWhatIsDue } from "@/server/due-list"
import { confirmJoin } from "@/server/funnel/confirm"
import { loadFunnel } from "@/server/funnel/load"
import { newFunnel } from "@/server/funnel/new-funnel"
import { checkFunnel, publishFunnel } from "@/server/funnel/release"
import { openFront, type TestFront } from "../support/front"
import { lastTo, linkId } from "../support/school"
import { course, openShop, type Shop } from "../support/shop"

let shop: Shop
let front: TestFront
let koji: number
let funnel: number
beforeAll(async () => {
  shop = await openShop("catalogue")
  const { s } = shop.t
  koji = await course(shop.t, "cheese", "Cheese <at> home")
  await s.db.update("course", koji, { state: "closed" })
  const made = await newFunnel(s, { goal: "catalogue" })
  if ("refused" in made) throw new Error(made.refused)
  funnel = made.funnel
  const draft = (await loadFunnel(s.db, funnel))!
  expect(catalogueOf(draft.steps[0]!.page)!.items).toContainEqual({ course: koji })
  expect((await checkFunnel(s, draft)).filter((f) => f.weight === "stop")).toEqual([])
  const done = await publishFunnel(s, funnel, true)
  if ("refused" in done) throw new Error(done.refused)
  front = await openFront(s)
})
afterAll(async () => {
  await front.stop()
  await shop.end()
})

const work = () => doWhatIsDue(shop.t.s, "w")
const page = async () => (await front.get("/catalogue")).text()
const card = (html: string, title: string) =>
  html.split("<li>").find((li) => li.includes(`<h3 dir="auto">${title}</h3>`)) ?? ""
const release = (html: string) => /name="release" value="(\d+)"/.exec(html)![1]!
async function asks(email: string, wait: number) {
  const fields = { email, website: "", release: release(await page()), wait: String(wait) }
  return fetch(`${front.origin}/catalogue`, { method: "POST", redirect: "manual", body: new URLSearchParams(fields) })
}

test("a course leads to the page that sells it, with its price; one that is closed takes whoever waits", async () => {
  const html = await page()
  expect(card(html, "A Year")).toContain('<a class="go" href="/a-year"')
  expect(card(html, "A Year")).toContain('<b class="amount">€290</b>')
  expect(card(html, "Cheese &lt;at&gt; home")).toContain(`name="wait" value="${koji}"`)
  expect(card(html, "Cheese &lt;at&gt; home")).not.toContain("href=")
  // What is sold only on the way to something else isn't among it.
  expect(card(html, "Clinic")).toBe("")
})

test("whoever waits is asked in their mailbox, waits once, and is told when it opens, once", async () => {
  const { s } = shop.t
  const sent = await asks("ines@post.example", koji)
  expect(sent.status).toBe(303)
  expect(sent.headers.get("location")).toBe("/catalogue/check-your-inbox")
  expect(await waitingFor(s.db, koji)).toBe(0)
  await work()
  const mail = lastTo(shop.t, "ines@post.example")
  expect(mail.subject).toContain("Cheese <at> home")
  const done = await confirmJoin(s, linkId(shop.t, mail, "confirm"), { ip: "192.0.2.1" })
  expect(done).toMatchObject({ goTo: "/catalogue/on-the-list" })
  expect(await waitingFor(s.db, koji)).toBe(1)
  // Somebody known asks for another, and is asked in the mailbox again: nothing is learnt by it, and nothing is lost.
  await s.db.update("course", shop.extra, { state: "closed" })
  expect((await asks("ines@post.example", shop.extra)).status).toBe(303)
  await work()
  const second = lastTo(shop.t, "ines@post.example")
  expect(second.subject).toContain("Koji")
  // It opens.
  expect(await saveCourse(s, { course: koji, state: "live" })).toHaveProperty("value")
  await work()
  const told = lastTo(shop.t, "ines@post.example")
  expect(told.subject).toBe("“Cheese <at> home” is open")
  expect(told.text).toContain("/catalogue")
  expect(await waitingFor(s.db, koji)).toBe(0)
  const count = shop.t.sent.length
  expect(await tellNow(s, koji)).toEqual({ ok: true })
  await work()
  expect(shop.t.sent.length).toBe(count)
})

test("nobody waits for what the page doesn't show, and a wrong address is told on the page", async () => {
  for (const wait of [999_999, -1]) expect((await asks("bo@post.example", wait)).status).toBe(404)
  const wrong = await asks("not an address", koji)
  expect(wrong.status).toBe(422)
  const html = await wrong.text()
  expect(html).toContain('role="alert"')
  expect(html).toContain('class="cards"')
})
