// The marketer's way: a course, a funnel from it, words changed, preflight, publish, and the numbers.

import type { Browser, BrowserContext, Page } from "playwright-core"
import { afterAll, beforeAll, expect, inject, it } from "vitest"
import { allSaved, checkAccess, desktop, openBrowser, openPage, riverReady, signIn } from "../support/browser"

const origin = inject("origin")
let browser: Browser
let context: BrowserContext
let page: Page
let calm: () => void
beforeAll(async () => {
  browser = await openBrowser()
  context = await browser.newContext(desktop)
  ;({ page, calm } = await openPage(context))
  await signIn(page, origin)
})
afterAll(() => browser.close())

const saved = () => allSaved(page)

it("writes a course with a lesson, a picture and a file", async () => {
  await page.goto(`${origin}/studio/courses?new`)
  await page.getByLabel("Title").fill("Kefir <b>& friends</b>")
  await page.getByRole("button", { name: "Make it" }).click()
  await page.getByRole("heading", { level: 1, name: "Kefir <b>& friends</b>" }).waitFor()
  // The first row waits to be written; a list that is pasted becomes modules and lessons.
  const outline = page.getByRole("region", { name: "Lessons", exact: true })
  await outline.getByLabel("Lesson 1").focus()
  await page.keyboard.type("Grains")
  // A pause in the middle: it is saved, its page opens beside it, and whoever writes goes on writing.
  await allSaved(page)
  await page.getByRole("heading", { level: 2, name: "Grains" }).waitFor()
  await page.keyboard.type(" and milk")
  await page.keyboard.press("Enter")
  await page.keyboard.type("?")
  await expect.poll(() => outline.getByLabel("Lesson 2").inputValue()).toBe("?")
  expect(await outline.getByLabel("Lesson 1").inputValue()).toBe("Grains and milk")
  await page.keyboard.press("Backspace")
  await page.evaluate(() => {
    const clipboardData = new DataTransfer()
    clipboardData.setData("text/plain", "# Later\n- Second ferment\n- Too sour")
    document.activeElement?.dispatchEvent(
      new ClipboardEvent("paste", { clipboardData, bubbles: true, cancelable: true }),
    )
  })
  await outline.getByLabel("Lesson 3").waitFor()
  await outline.getByLabel("Lesson 3").focus()
  await page.keyboard.press("Alt+ArrowUp")
  await expect.poll(() => outline.getByLabel("Lesson 2").inputValue()).toBe("Too sour")
  await page.keyboard.press("Control+z")
  await expect.poll(() => outline.getByLabel("Lesson 2").inputValue()).toBe("Second ferment")
  await outline.getByText("1 module, 0 of 3 lessons live").waitFor()
  await page.getByRole("navigation", { name: "Within the course" }).getByRole("link", { name: "Settings" }).click()
  await page.getByLabel("Promise").fill("Kefir from your own kitchen by the end of the week")
  await page.getByLabel("Teacher").fill("Maren Solvik")
  await saved()
  await page.getByRole("link", { name: "Lessons", exact: true }).click()
  const lesson = page.getByRole("region", { name: "The lesson" })
  await expect.poll(() => lesson.getByLabel("Title").inputValue()).toBe("Grains and milk")
  await lesson.getByLabel("Minutes").fill("4")
  await lesson.getByLabel("Status").selectOption("live")
  await lesson.getByText("All saved").waitFor()
  await lesson.getByRole("link", { name: "Write the lesson" }).click()
  // The same editor as pages have.
  await page.getByRole("heading", { level: 1, name: "Grains and milk" }).waitFor()
  const settings = page.getByRole("region", { name: "Settings" })
  const add = async (kind: string) => {
    await page.getByRole("button", { name: /^Add below/ }).click()
    await page.getByRole("dialog").getByRole("button", { name: kind, exact: true }).click()
  }
  await add("text")
  await settings.getByRole("textbox", { name: "Text" }).click()
  await page.keyboard.press("Control+a")
  await page.keyboard.type("Put a spoon of grains into a glass of milk.")
  await add("picture")
  await settings
    .locator("input[type=file]")
    .setInputFiles({ name: "kefir.png", mimeType: "image/png", buffer: Buffer.from("not a picture at all") })
  await settings.getByText("That isn't a picture we can show").waitFor()
  await settings.getByRole("button", { name: "Remove", exact: true }).click()
  await add("file")
  await settings
    .locator("input[type=file]")
    .setInputFiles({ name: "Shopping.txt", mimeType: "text/plain", buffer: Buffer.from("milk\ngrains\n") })
  await settings.getByRole("option", { name: "Shopping.txt" }).waitFor({ state: "attached" })
  await add("quiz")
  await settings.getByLabel("It asks").fill("How long does it stand?")
  await settings.getByLabel("Option 1", { exact: true }).fill("A day")
  await settings.getByLabel("Option 2", { exact: true }).fill("A year")
  await page.frameLocator("iframe").getByText("How long does it stand?").waitFor()
  await saved()
  await page.reload()
  await page.frameLocator("iframe").getByText("a spoon of grains").waitFor()
})

it("makes a funnel from it, fixes what preflight finds, publishes, and visitors get that release", async () => {
  await page.goto(`${origin}/studio/funnels/new`)
  await page.getByRole("radio", { name: /Kefir/ }).check()
  await page.getByRole("button", { name: "Make the funnel" }).click()
  await page.getByText("draft, nobody sees it yet").waitFor()
  await page.getByText("No visitors yet").waitFor()
  expect((await fetch(`${origin}/kefir-b-friends-b`)).status).toBe(404)
  await page.getByRole("button", { name: /Preflight: \d to fix/ }).click()
  const dialog = page.getByRole("dialog")
  await dialog.getByText("is still a draft").first().waitFor()
  for (let n = await dialog.getByRole("button", { name: "Put the course live" }).count(); n > 0; n = 0)
    await dialog.getByRole("button", { name: "Put the course live" }).first().click()
  await dialog.getByText("Nothing to fix").waitFor()
  await page.keyboard.press("Escape")
  await page.getByRole("button", { name: "Publish", exact: true }).click()
  await page.getByText("Published as release 1").waitFor()
  await expect.poll(async () => (await fetch(`${origin}/kefir-b-friends-b`)).status).toBe(200)
  expect(await (await fetch(`${origin}/kefir-b-friends-b`)).text()).toContain("Kefir from your own kitchen")
})

it("edits a page beside itself, with undo, and nothing changes for visitors until publish", async () => {
  await page.keyboard.press("e")
  await page.getByRole("navigation", { name: "On this page" }).waitFor()
  const frame = page.frameLocator("iframe")
  await page
    .getByRole("region", { name: "Settings" })
    .getByLabel("Text", { exact: true })
    .fill("Your own kefir <i>by Friday</i>")
  await frame.getByRole("heading", { name: "Your own kefir <i>by Friday</i>" }).waitFor()
  await saved()
  await page.keyboard.press("Tab")
  await page.locator("body").click({ position: { x: 5, y: 400 } })
  await page.keyboard.press("n")
  await page.getByRole("dialog").getByRole("button", { name: "headline" }).click()
  await frame.getByRole("heading", { name: "A new headline" }).waitFor()
  await page.getByText("2 of 13").waitFor()
  await page.keyboard.press("Alt+ArrowUp")
  await page.getByText("1 of 13").waitFor()
  await page.keyboard.press("Control+z")
  await page.getByText("2 of 13").waitFor()
  await page.keyboard.press("Control+z")
  await frame.getByRole("heading", { name: "A new headline" }).waitFor({ state: "detached" })
  await saved()
  await frame
    .getByRole("button", { name: "Send me the first lesson" })
    .click({ force: true })
    .catch(() => {})
  await page.getByRole("button", { name: "Phone" }).click()
  expect(await page.locator("iframe").evaluate((f) => f.clientWidth)).toBe(360)
  expect(await (await fetch(`${origin}/kefir-b-friends-b`)).text()).not.toContain("by Friday")
  await page.getByRole("link", { name: /Kefir.*All saved/ }).click()
  await page.getByRole("button", { name: "Publish changes" }).click()
  await page.getByText("Published as release 2").waitFor()
  await expect
    .poll(async () => (await fetch(`${origin}/kefir-b-friends-b`)).text())
    .toContain("Your own kefir &lt;i&gt;by Friday&lt;/i&gt;")
})

it("changes where an outcome leads and what it sets off, on the bench", async () => {
  await page.getByRole("button", { name: /^Check your inbox/ }).click()
  await page.getByLabel("Where whoever confirms goes").selectOption("")
  await page.getByRole("button", { name: /Preflight: \d to fix/ }).waitFor()
  await page.getByRole("button", { name: "Publish changes" }).click()
  await page.getByRole("dialog").getByText("is left standing").waitFor()
  await page.getByRole("button", { name: "Fix it first" }).click()
  await page.keyboard.press("p")
  await page.getByRole("dialog").getByRole("button", { name: "Lead them to “Welcome”" }).click()
  await page.getByRole("dialog").getByText("Nothing to fix").waitFor()
  await page.keyboard.press("Escape")
  await page.getByRole("button", { name: "add…" }).click()
  await page.getByLabel("Tag").fill("kefir people")
  await page.getByRole("button", { name: "Add", exact: true }).click()
  await page.getByText("tags “kefir people”").waitFor()
})

it("walks the river with the keys and reads it in words", async () => {
  await page.goto(`${origin}/studio/funnels/1`)
  await riverReady(page)
  const first = page.getByRole("button", { name: /^The First Crock \d/ })
  await first.focus()
  await page.keyboard.press("ArrowRight")
  await page
    .getByRole("region", { name: "What follows" })
    .getByRole("heading", { name: /Check your inbox/ })
    .waitFor()
  await page.keyboard.press("ArrowRight")
  await page.keyboard.press("ArrowRight")
  await page.keyboard.press("ArrowRight")
  await page.keyboard.press("ArrowLeft")
  await page.keyboard.press("ArrowDown")
  await page.getByRole("region", { name: "The sequence" }).waitFor()
  await page.keyboard.press("o")
  await page.getByText(/came from garden letter/).waitFor()
  await page.keyboard.press("?")
  await page.getByRole("dialog", { name: "Keys" }).waitFor()
  await page.keyboard.press("Escape")
  // In every row of the outline: in = on + here + left. The bench shows the same numbers as the drawing.
  await page.getByRole("button", { name: /^Dates/ }).click()
  await page.getByRole("button", { name: "from the beginning" }).click()
  await page.waitForURL(/from=beginning/)
  await page.getByRole("button", { name: /^The First Crock \d/ }).click()
  const cells = await page
    .getByRole("region", { name: "What follows" })
    .getByRole("row")
    .evaluateAll((rows) => rows.slice(1).map((r) => Number(r.lastElementChild!.textContent!.replace(/,/g, ""))))
  const total = Number(
    (await page
      .getByRole("button", { name: /^The First Crock \d/ })
      .locator("strong")
      .textContent())!.replace(/,/g, ""),
  )
  expect(cells.reduce((a, b) => a + b, 0)).toBe(total)
  expect(total).toBeGreaterThan(600)
})

it("edits an e-mail of the sequence", async () => {
  await page.goto(`${origin}/studio/mail/sequences/1`)
  await page.getByLabel("Subject", { exact: true }).fill("A first word, ‹first name, else friend›")
  await saved()
  await page.reload()
  expect(await page.getByLabel("Subject", { exact: true }).inputValue()).toBe("A first word, ‹first name, else friend›")
})

it("finds anything by name, and says at the field what is wrong in the settings", async () => {
  await page.keyboard.press("Control+k")
  await page.getByPlaceholder(/^A place, a setting/).fill("settings")
  await page.keyboard.press("Enter")
  await page.getByRole("heading", { name: "The school" }).first().waitFor()
  await page.getByLabel("Address", { exact: true }).fill("not an address")
  await page.getByText("That doesn't look like an e-mail address.").first().waitFor()
  await page.getByLabel("Address", { exact: true }).fill("maren@junipercrock.example")
  await saved()
  calm()
})

it("brings an earlier release back, and the draft stays", async () => {
  await page.goto(`${origin}/studio/funnels`)
  await page.getByRole("link", { name: /Kefir/ }).click()
  await page.getByRole("button", { name: "History" }).click()
  const releases = page.getByRole("dialog", { name: "History" })
  await checkAccess(page, "releases")
  await releases
    .getByRole("listitem")
    .filter({ hasText: /Release 1,/ })
    .getByRole("button", { name: "Bring back" })
    .click()
  await page.getByText("Release 1 is live again.").waitFor()
  await expect
    .poll(async () => (await fetch(`${origin}/kefir-b-friends-b`)).text())
    .not.toContain("Your own kefir &lt;i&gt;by Friday")
  await page.getByRole("button", { name: "Publish changes" }).waitFor()
})

it("sends a test mail from the settings, and says what the server answered", async () => {
  await page.goto(`${origin}/studio/settings/mail`)
  await page.getByRole("button", { name: "Send me a test" }).click()
  await page.getByText(/^The server took it. Look into the inbox of maren@/).waitFor()
  calm()
})

it("builds a question about people, counted while it is written, and renames a tag", async () => {
  await page.goto(`${origin}/studio/people/segments`)
  await page.getByText("New segment").click()
  await page.getByLabel("Name").fill("Quiet in the year")
  await page.getByRole("button", { name: "Make it" }).click()
  await page.getByRole("heading", { level: 1, name: "Quiet in the year" }).waitFor()
  const found = page.getByRole("region", { name: "Whom it finds" })
  const count = async () => Number((await found.getByRole("status").textContent())!.replace(/\D/g, ""))
  const everybody = await count()
  await page.getByLabel("Only those").selectOption({ label: "A course" })
  await page.getByLabel("Course").selectOption({ label: "A Year in Ferments" })
  await expect.poll(count).toBeLessThan(everybody)
  const year = await count()
  await page.getByLabel("And also").selectOption({ label: "What they bought" })
  await page.getByLabel("Offer").selectOption({ label: "The Koji Tray" })
  await expect.poll(count).toBeLessThan(year)
  // The word between them turns round: one of both is enough.
  await page.getByRole("button", { name: "and", exact: true }).click()
  await expect.poll(count).toBeGreaterThan(year)
  await saved()
  await checkAccess(page, "a segment")
  const [csv] = await Promise.all([
    page.waitForEvent("download"),
    found.getByRole("link", { name: "All as CSV" }).click(),
  ])
  expect(csv.suggestedFilename()).toMatch(/people.*\.csv$/)
  await page.goto(`${origin}/studio/people/segments`)
  await page.getByText("People who are in “A Year in Ferments” or have not bought “The Koji Tray”").waitFor()
  await checkAccess(page, "segments")

  await page.goto(`${origin}/studio/people/tags?tag=1`)
  await page.getByLabel("Name").fill("began")
  await page.getByRole("button", { name: "Rename" }).click()
  await page.getByRole("heading", { name: "“began”" }).waitFor()
  await checkAccess(page, "a tag")
  await page.getByLabel("Name").fill("first lesson")
  await page.getByRole("button", { name: "Rename" }).click()
  await page.getByRole("heading", { name: "“first lesson”" }).waitFor()
})

it("takes a funnel off the web", async () => {
  await page.goto(`${origin}/studio/funnels`)
  await page.getByRole("link", { name: /Kefir/ }).click()
  await page.getByRole("button", { name: "Take the funnel off the web" }).click()
  await page.getByRole("dialog").getByText("nobody can join or buy there").waitFor()
  await page.getByRole("button", { name: "Take it off" }).click()
  await page.getByText("Taken off").waitFor()
  await expect.poll(async () => (await fetch(`${origin}/kefir-b-friends-b`)).status).toBe(410)
})

it("lets nobody into the studio who isn't signed in", async () => {
  for (const path of ["/studio", "/studio/people", "/studio/funnels/1", "/studio/people/1"]) {
    const res = await fetch(origin + path, { redirect: "manual" })
    expect([307, 303]).toContain(res.status)
    expect(res.headers.get("location")).toBe("/studio/sign-in")
  }
  const upload = await fetch(`${origin}/studio/upload?kind=picture`, { method: "POST", body: "x", redirect: "manual" })
  expect(upload.status).toBe(401)
})
