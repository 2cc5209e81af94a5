// What goes wrong, runs long, or is done in two windows at once.

import type { Browser, BrowserContext, Page } from "playwright-core"
import { afterAll, beforeAll, expect, inject, it } from "vitest"
import { checkAccess, desktop, mailbox, openBrowser, openPage, phone, signIn } from "../support/browser"

const origin = inject("origin")
let browser: Browser
let context: BrowserContext
let page: Page
beforeAll(async () => {
  browser = await openBrowser()
  context = await browser.newContext(desktop)
  ;({ page } = await openPage(context))
  await signIn(page, origin)
})
afterAll(() => browser.close())

const fits = async (p: Page, width: number) =>
  expect(await p.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(width)

it("says that address and password don't fit, and keeps the address", async () => {
  const { page: stranger } = await openPage(await browser.newContext(desktop))
  await stranger.goto(`${origin}/studio/sign-in`)
  await stranger.getByLabel("E-mail address", { exact: true }).fill("maren@junipercrock.example")
  await stranger.getByLabel("Password").fill("not it")
  await stranger.getByRole("button", { name: "Sign in", exact: true }).click()
  await stranger.getByRole("alert").getByText("E-mail address and password don't fit together.").waitFor()
  expect(await stranger.getByLabel("E-mail address", { exact: true }).inputValue()).toBe("maren@junipercrock.example")
  await stranger.context().close()
})

it("tells the second of two windows that both changed the same, and shows it what the first writes", async () => {
  const { page: second } = await openPage(context)
  for (const p of [page, second]) await p.goto(`${origin}/studio/funnels/1/steps/3?block=head`)
  const says = (p: Page) => p.getByRole("region", { name: "Settings" }).getByLabel("Text", { exact: true })
  for (const p of [page, second]) await p.frameLocator("iframe[title$='it will stand']").locator("h1").waitFor()
  // Both write before either hears of the other.
  await second.route("**/*", (r) => (r.request().method() === "POST" ? r.abort() : r.continue()))
  await says(second).fill("Hello there")
  await second.getByText("It couldn't be saved just now").waitFor()
  const stored = page.waitForResponse((r) => !!r.request().postData()?.includes("It worked. Come in"))
  await says(page).fill("It worked. Come in")
  await stored
  await second.unroute("**/*")
  await second.getByText("Two windows have changed").waitFor()
  expect(await says(second).inputValue()).toBe("Hello there")
  await second.getByRole("button", { name: "Take the other page" }).click()
  await expect.poll(() => says(second).inputValue()).toBe("It worked. Come in")
  await says(page).fill("It worked. Come right in")
  await expect.poll(() => says(second).inputValue()).toBe("It worked. Come right in")
  await second.getByText(/^You have this page open in another window, since \d\d:\d\d\.$/).waitFor()
  await second.close({ runBeforeUnload: false })
  await page.reload()
  expect(await says(page).inputValue()).toBe("It worked. Come right in")
})

it("brings back what was typed while nothing could be saved, once the window is opened again", async () => {
  const editor = `${origin}/studio/funnels/1/steps/3`
  const title = (p: Page) => p.frameLocator("iframe[title$='it will stand']").locator("h1")
  const { page: lost } = await openPage(context)
  await lost.goto(editor)
  await lost.route("**/*", (r) => (r.request().method() === "POST" ? r.abort() : r.continue()))
  await title(lost).click()
  await lost.keyboard.press("Control+End")
  await lost.keyboard.type(" at last")
  await lost.getByText("It couldn't be saved just now").waitFor()
  await lost.close({ runBeforeUnload: false })
  await page.goto(editor)
  await page.getByText("What wasn’t saved the last time came back.").waitFor()
  await page.getByText("All saved").waitFor()
  await page.reload()
  await expect.poll(() => title(page).textContent()).toMatch(/ at last$/)
  expect(await page.evaluate(() => Object.keys(localStorage).filter((k) => k.startsWith("typed:")))).toEqual([])
})

it("has both changes of two windows, and asks where both changed the same", async () => {
  const { page: second } = await openPage(context)
  for (const p of [page, second]) await p.goto(`${origin}/studio/courses/1/settings`)
  const nothingWaits = (p: Page) => expect.poll(() => p.getByText("Saving…").count()).toBe(0)
  const promise = (p: Page) => p.getByLabel("Promise")
  const was = await promise(page).inputValue()
  await promise(page).fill("Crocks that keep")
  await nothingWaits(page)
  await second.getByLabel("Teacher").fill("Maren S.")
  await nothingWaits(second)
  expect(await promise(second).inputValue()).toBe("Crocks that keep")
  await promise(page).fill("Crocks that sing")
  await nothingWaits(page)
  await promise(second).fill("Crocks that hum")
  await second.getByText("was changed in another window, to: “Crocks that sing”").waitFor()
  await checkAccess(second, "two windows")
  await second.getByRole("button", { name: "Take the other" }).click()
  await nothingWaits(second)
  expect(await promise(second).inputValue()).toBe("Crocks that sing")
  await second.close({ runBeforeUnload: false })

  // Back shows what is saved, not an old copy.
  await page.goto(`${origin}/studio/courses`)
  await page.getByRole("main").getByRole("link", { name: "The First Crock" }).first().click()
  await page.getByRole("navigation", { name: "Within the course" }).getByRole("link", { name: "Settings" }).click()
  await promise(page).fill(was)
  await nothingWaits(page)
  await page.getByRole("link", { name: "Offers", exact: true }).click()
  await page.waitForURL(/offers/)
  await page.goBack()
  await expect.poll(() => promise(page).inputValue()).toBe(was)
  expect(await page.getByLabel("Teacher").inputValue()).toBe("Maren S.")
})

it("shows an uploaded picture on the page, with its own words", async () => {
  await page.goto(`${origin}/studio/funnels/1/steps/3`)
  await page.getByRole("button", { name: /^Add below/ }).click()
  await page.getByRole("dialog").getByRole("option", { name: "picture", exact: true }).click()
  const settings = page.getByRole("region", { name: "Settings" })
  const png = Buffer.from(
    "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==",
    "base64",
  )
  await settings
    .getByLabel("Upload a picture")
    .setInputFiles({ name: "dot.exe", mimeType: "application/octet-stream", buffer: png })
  await page.frameLocator("iframe[title$='it will stand']").locator("img").waitFor({ state: "attached" })
  await page.getByText("A picture says nothing to those who can’t see").waitFor()
  await settings.getByLabel("What it shows").fill("A dot")
  await page.getByText("A picture says nothing to those who can’t see").waitFor({ state: "detached" })
  await page.getByText("All saved").waitFor()
  await page.getByRole("button", { name: "Remove", exact: true }).click()
  await page.getByText("All saved").waitFor()
})

it("refuses an address that is ours at its field", async () => {
  await page.goto(`${origin}/studio/funnels/1`)
  await page.getByText("Name and address: /first-crock").click()
  await page.getByLabel("Address on the web").fill("studio/mine")
  await page.getByRole("button", { name: "Save" }).first().click()
  await page.getByText("can't begin with a word that is ours").waitFor()
  expect(await page.getByLabel("Address on the web").inputValue()).toBe("studio/mine")
})

it("holds together with very long names", async () => {
  const long = `Sauerkraut${"verständigungsschwierigkeiten".repeat(4)}`.slice(0, 118)
  await page.goto(`${origin}/studio/courses?new`)
  await page.getByLabel("Title").fill(long)
  await page.getByRole("button", { name: "Make it" }).click()
  await page.waitForURL(/courses\/\d+$/)
  await page.getByLabel("Lesson 1").fill(long)
  await page.getByRole("region", { name: "The lesson" }).getByText("All saved").waitFor()
  await fits(page, 1280)
  await page.goto(`${origin}/studio/funnels/new`)
  await page.getByRole("radio", { name: new RegExp(long.slice(0, 30)) }).check()
  await fits(page, 1280)
  await page.getByRole("button", { name: "Make the funnel" }).click()
  await page.getByText("No visitors yet").waitFor()
  await fits(page, 1280)
  await page.goto(`${origin}/studio/funnels`)
  await fits(page, 1280)
  await page.goto(`${origin}/studio`)
  await fits(page, 1280)
})

it("keeps search, tag, order and page of the people list in the address", async () => {
  await page.goto(`${origin}/studio/people`)
  const names = () => page.locator("tbody tr td:nth-child(2)").allTextContents()
  const first = await names()
  expect(first).toHaveLength(50)
  // However many there are: thousands are set apart.
  expect(await page.getByText(/^1 to 50 of /).textContent()).toMatch(/ of \d{1,3}(,\d{3})*$/)
  await page.getByRole("link", { name: "After ›" }).click()
  await page.waitForURL(/page=2/)
  const second = await names()
  expect(second.filter((n) => first.includes(n))).toEqual([])
  await page
    .getByRole("columnheader", { name: /E-mail address/ })
    .getByRole("link")
    .click()
  await page.waitForURL(/sort=email-up/)
  const sorted = await names()
  const initials = sorted.map((n) => n[0]!)
  expect([...initials].sort()).toEqual(initials)
  await page.getByLabel("Search by name or address").fill("letterbox")
  await page.getByRole("button", { name: "Search" }).click()
  await page.waitForURL(/search=letterbox/)
  expect((await names()).every((n) => n.includes("@letterbox.example"))).toBe(true)
  await page.getByLabel("Only with the tag").selectOption({ label: "first lesson" })
  await page.getByRole("button", { name: "Search" }).click()
  await page.waitForURL(/tag=\d/)
  expect(page.url()).toContain("search=letterbox")
  await page.goto(`${origin}/studio/people?page=99999&sort=nonsense&tag=x`)
  await page.getByText("Nobody is here yet").or(page.getByText("Nobody fits that")).waitFor()
})

it("moves the clock to the next thing due", async () => {
  await page.goto(`${origin}/studio/mail/due`)
  const due = await page.locator("tbody tr td").first().textContent()
  // A plan that renews, or somebody who stopped, may be due before it; at night it may be sent in the morning.
  let next = due
  for (let n = 0; n < 5 && next === due; n++) {
    await page.getByRole("button", { name: /^The clock/ }).click()
    await page.getByRole("menuitem", { name: "To the next thing due" }).click()
    await page.getByText("The clock has moved on").waitFor({ state: "attached", timeout: 60_000 })
    await page.goto(`${origin}/studio/mail/due`)
    next = await page.locator("tbody tr td").first().textContent()
  }
  expect(next).not.toBe(due)
})

it("shows a message as its receiver reads it, its source, and lists them in JSON", async () => {
  await page.goto(`${origin}/standins/mailbox`)
  await page.getByRole("link", { name: "Its source" }).click()
  await page.getByText("MIME-Version: 1.0").waitFor()
  const all = (await (await fetch(`${origin}/standins/mailbox/messages`)).json()) as { id: number; to: string }[]
  expect(all.length).toBeGreaterThan(0)
  expect(all.map((m) => m.id)).toEqual([...all.map((m) => m.id)].sort((a, b) => b - a))
  expect(Object.keys(all[0]!).sort()).toEqual(["date", "from", "id", "subject", "to"])
  const mine = await mailbox(origin, all[0]!.to.toUpperCase())
  expect(mine.every((m) => m.to === all[0]!.to)).toBe(true)
  for (const id of ["0", "-1", "999999", "..%2f..%2fheron.json", "x"])
    expect((await fetch(`${origin}/standins/mailbox/messages/${id}`)).status).toBe(404)
  await page.goto(`${origin}/standins/mailbox?to=nobody@nowhere.example`)
  await page.getByText("Nothing has come for nobody@nowhere.example.").waitFor()
})

it("ends the session at sign-out, here and for the cookie that was kept", async () => {
  const cookies = await context.cookies()
  await page.goto(`${origin}/studio`)
  await page.getByRole("button", { name: "Sign out" }).click()
  await page.getByRole("heading", { name: "Sign in to the studio" }).waitFor()
  const thief = await browser.newContext(desktop)
  await thief.addCookies(cookies)
  const { page: late } = await openPage(thief)
  await late.goto(`${origin}/studio/people`)
  await late.getByRole("heading", { name: "Sign in to the studio" }).waitFor()
  await thief.close()
})

it("says on a phone that nothing stands at an address, and that a link is cut off", async () => {
  const { page: visitor } = await openPage(await browser.newContext(phone))
  await visitor.goto(`${origin}/nothing-here`)
  await visitor.getByRole("heading", { name: "There is nothing at this address" }).waitFor()
  await fits(visitor, 360)
  await visitor.goto(`${origin}/confirm/1.cut`)
  await visitor.getByRole("heading", { name: "This link isn't one of ours" }).waitFor()
  await visitor.getByRole("link", { name: "Send me a new link" }).click()
  await visitor.getByRole("heading", { name: "Sign in to your courses" }).waitFor()
  await visitor.context().close()
})
