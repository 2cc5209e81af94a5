// A webinar from the calendar to what follows: made, filled by a funnel, registered for on a phone, held live, and moved by dragging.
import type { Browser, Page } from "playwright-core"
import { afterAll, beforeAll, expect, inject, it } from "vitest"
import {
  allSaved,
  checkAccess,
  desktop,
  mailbox,
  nextDateOf,
  openBrowser,
  openPage,
  phone,
  schoolNow,
  signIn,
} from "../support/browser"

const origin = inject("origin")
let browser: Browser
let page: Page
let calm: () => void
let guest: Page
let guestCalm: () => void
let address = ""
beforeAll(async () => {
  browser = await openBrowser()
  ;({ page, calm } = await openPage(await browser.newContext(desktop)))
  ;({ page: guest, calm: guestCalm } = await openPage(await browser.newContext(phone)))
  await signIn(page, origin)
})
afterAll(() => browser.close())

/** When it begins: soon enough for its room to be open, by the clock of the studio. */
async function soon() {
  return (await schoolNow()).add({ minutes: 20 })
}

it("is written down with a date, a poll and what it leads to", async () => {
  await page.goto(`${origin}/studio/calendar/webinars`)
  await page.getByText("New webinar").click()
  await page.getByLabel("Title").fill("Ask me about brine")
  await page.getByRole("button", { name: "Make it" }).click()
  await page.waitForURL(/webinars\/\d+$/)
  address = page.url()
  const at = await soon()
  await page.getByRole("button", { name: "Add a date" }).click()
  await page.getByLabel("Date 1", { exact: true }).fill(at.toPlainDate().toString())
  await page.getByLabel("Time", { exact: true }).fill(at.toPlainTime().toString({ smallestUnit: "minute" }))
  await page.getByLabel("Room opens so many minutes before").fill("60")
  await page.getByLabel("Offer", { exact: true }).selectOption({ label: "A Year in Ferments" })
  await page.getByRole("button", { name: "Add a poll" }).click()
  await page.getByLabel("Question").fill("Is yours cloudy?")
  await page.getByLabel("From minute", { exact: true }).fill("0")
  await page.getByLabel("Answers, one a line").fill("Yes\nNo")
  await allSaved(page)
  await page.getByRole("region", { name: "Its dates" }).getByText("Nobody registered yet").waitFor()
  await checkAccess(page, "a webinar")
})

it("is filled by a new funnel, from the registration page to its e-mails", async () => {
  await page.goto(`${origin}/studio/funnels/new`)
  await page.getByText("a seat at a webinar").click()
  await page.getByLabel("Which webinar?").selectOption({ label: "Ask me about brine" })
  await page.getByRole("button", { name: "Make the funnel" }).click()
  await page.waitForURL(/funnels\/\d+/)
  await page.getByRole("heading", { level: 1, name: "Ask me about brine" }).waitFor()
  await page.getByRole("button", { name: /^Publish/ }).click()
  await page.getByText(/Live since/).waitFor()
})

it("is registered for on a phone, and its room is entered by a press", async () => {
  const email = "wilma@letterbox.example"
  // A web process learns of a release a moment after it was published.
  await expect.poll(async () => (await guest.goto(`${origin}/ask-me-about-brine`))?.status()).toBe(200)
  await guest.getByLabel("First name").fill("Wilma")
  await guest.getByLabel("E-mail address").fill(email)
  await checkAccess(guest, "a registration page")
  await guest.getByRole("button", { name: "Take my seat" }).click()
  await guest.waitForURL(/your-seat/)
  await guest.getByText("An e-mail is on its way to you").waitFor()
  const link = async (n: number, of: RegExp) => {
    await expect.poll(async () => (await mailbox(origin, email)).length).toBeGreaterThanOrEqual(n)
    const found = await mailbox(origin, email)
    const text = await (await guest.request.get(`${origin}/standins/mailbox/messages/${found[0]!.id}`)).text()
    return of.exec(text)![0]
  }
  await guest.goto(origin + (await link(1, /\/confirm\/[\w.-]+/)))
  await guest.getByRole("button").first().click()
  await guest.waitForURL(/your-seat/)
  await guest.getByText("This seat is yours.").waitFor()
  await checkAccess(guest, "a seat")
  await guest.getByRole("link", { name: "To the room" }).click()
  await guest.getByRole("button", { name: "Go in" }).click()
  await guest.getByRole("timer").waitFor()
  await expect.poll(async () => await guest.getByRole("timer").textContent()).toMatch(/^\d\d:\d\d$/)
  await checkAccess(guest, "a room before it begins")
})

it("is held live: the host begins, is heard and asked, and shows the offer", async () => {
  await page.goto(address)
  await page.getByRole("region", { name: "Its dates" }).getByRole("link", { name: "Room" }).click()
  await page.getByRole("button", { name: "Begin now" }).click()
  await page.getByRole("button", { name: "End it for everybody" }).waitFor()
  const video = guest.locator("video")
  await video.waitFor()
  await expect.poll(() => video.evaluate((v) => (v as HTMLVideoElement).currentTime)).toBeGreaterThan(0)
  await guest.getByRole("group", { name: "Is yours cloudy?" }).getByRole("button", { name: "Yes" }).click()
  await guest.getByText("1 of 1").waitFor()
  await guest.getByLabel("Say something").fill("Is fuzz bad?")
  await guest.getByLabel("It is a question").check()
  await guest.getByRole("button", { name: "Send", exact: true }).click()
  await guest.getByRole("log").getByText("Is fuzz bad?").waitFor()
  await page.getByText("Is fuzz bad?").waitFor()
  await page.getByLabel("Say something to everybody").fill("Take it off with a spoon.")
  await page.getByRole("button", { name: "Send", exact: true }).click()
  await guest.getByRole("log").getByText("Take it off with a spoon.").waitFor()
  await page.getByRole("button", { name: "Show “A Year in Ferments” now" }).click()
  await guest.getByRole("link", { name: "Have a look" }).waitFor()
  await checkAccess(guest, "a room while it runs")
  await page.getByRole("button", { name: "Answer by e-mail…" }).click()
  await page.getByLabel("Your answer").fill("It is not, if you take it off.")
  await checkAccess(page, "a question being answered")
  await page.getByRole("button", { name: "Send the answer" }).click()
  await page.getByText("answered by e-mail").waitFor()
  await expect
    .poll(async () => (await mailbox(origin, "wilma@letterbox.example"))[0]?.subject)
    .toContain("Your question")
  await page.getByRole("button", { name: "End it for everybody" }).click()
  await guest.getByText("This webinar is over.").waitFor({ timeout: 30_000 })
})

it("is moved in the calendar by dragging, after what it changes is said", async () => {
  const day = await nextDateOf("Why brine goes cloudy")
  // To the day after, or on a Sunday, whose week ends with it, to the day before.
  const other = day.add({ days: day.dayOfWeek === 7 ? -1 : 1 })
  await page.goto(`${origin}/studio/calendar?on=${day}`)
  const entry = page
    .locator(`td:has(time[datetime="${day}"])`)
    .getByRole("link", { name: /19:00\s*Why brine goes cloudy/ })
  const to = page.locator(`td:has(time[datetime="${other}"])`)
  await checkAccess(page, "the calendar")
  const [a, b] = [(await entry.boundingBox())!, (await to.boundingBox())!]
  await page.mouse.move(a.x + 20, a.y + 8)
  await page.mouse.down()
  await page.mouse.move(a.x + 40, a.y + 20, { steps: 4 })
  await page.mouse.move(b.x + b.width / 2, b.y + b.height / 2, { steps: 8 })
  await page.mouse.up()
  const dialog = page.getByRole("dialog", { name: "Move “Why brine goes cloudy”" })
  await dialog.getByText(/Nobody has registered|has a seat: it moves along|have seats: they move along/).waitFor()
  await expect.poll(() => dialog.getByLabel("Date").inputValue()).toBe(other.toString())
  // It is left where it is: the other tests count on it.
  await page.keyboard.press("Escape")
  await dialog.waitFor({ state: "hidden" })
  await page.getByRole("button", { name: "Subscribe…" }).click()
  await page.getByRole("button", { name: "Make an address" }).click()
  await expect.poll(() => page.getByLabel("Address").inputValue()).toMatch(/\/calendar\/school\/.+\.ics$/)
  calm()
  guestCalm()
})
