// The media place, from a picture that is brought in to one that is cut, put in another's place and removed; and the pages of Settings and of a
// course that are about what visitors see, read by axe.
import type { Browser, BrowserContext, Page } from "playwright-core"
import sharp from "sharp"
import { afterAll, beforeAll, expect, inject, it } from "vitest"
import { checkAccess, desktop, openBrowser, openPage, phone, signIn } from "../support/browser"

const origin = inject("origin")
let browser: Browser
let context: BrowserContext
let page: Page
beforeAll(async () => {
  browser = await openBrowser()
  context = await browser.newContext(desktop)
  page = (await openPage(context)).page
  await signIn(page, origin)
})
afterAll(() => browser.close())

const png = (name: string, width: number, height: number) =>
  sharp({ create: { width, height, channels: 3, background: "#467" } })
    .png()
    .toBuffer()
    .then((buffer) => ({ name, mimeType: "image/png", buffer }))

it("takes several at once, describes one, keeps what matters in it, cuts it, and removes what is unused", async () => {
  await page.goto(`${origin}/studio/settings/media`)
  await page
    .getByLabel("Drop pictures, videos or files here")
    .setInputFiles([
      await png("cellar.png", 800, 600),
      await png("pantry.png", 700, 700),
      { name: "not.png", mimeType: "image/png", buffer: Buffer.from("nothing") },
    ])
  await page.getByText("That isn't a picture we can show").waitFor()
  await page.getByRole("link", { name: "cellar.webp" }).waitFor()
  await checkAccess(page, "media")
  await page.getByRole("link", { name: "cellar.webp" }).click()
  await page.getByLabel("What it shows").fill("A cellar with jars")
  await page.getByRole("button", { name: "Save", exact: true }).click()
  const focus = page.getByRole("button", { name: /^What matters in it: 50 %/ })
  await focus.press("ArrowLeft")
  await page.getByRole("button", { name: /^What matters in it: 45 %/ }).waitFor()
  await checkAccess(page, "a picture")
  await page.getByRole("button", { name: "Crop", exact: true }).click()
  await page.getByRole("button", { name: "Square" }).click()
  await page.getByText("540 × 540 pixels").waitFor()
  await page.getByRole("button", { name: "Crop, and show that everywhere" }).click()
  await page.getByText("Nowhere yet.").waitFor()
  await page.getByRole("button", { name: "Crop", exact: true }).waitFor()
  // The whole one stays, and both are found by what they show or are called.
  await page.goto(`${origin}/studio/settings/media?search=cellar`)
  await expect.poll(() => page.getByRole("link", { name: "cellar.webp" }).count()).toBe(2)
  await page.getByRole("link", { name: "cellar.webp" }).first().click()
  await page.getByRole("button", { name: "Remove", exact: true }).click()
  await page.getByRole("button", { name: "Remove it" }).click()
  await page.waitForURL(`${origin}/studio/settings/media`)
  await page.goto(`${origin}/studio/settings/media?search=cellar`)
  await expect.poll(() => page.getByRole("link", { name: "cellar.webp" }).count()).toBe(1)
})

it("says of one that is used where, and offers no way to remove it", async () => {
  await page.goto(`${origin}/studio/settings/media/1`)
  await page.getByText("the teacher “Maren Solvik”").waitFor()
  expect(await page.getByRole("button", { name: "Remove", exact: true }).count()).toBe(0)
})

it("a legal page is changed, and visitors read the change once it is published", async () => {
  await page.goto(`${origin}/studio/settings/legal`)
  const terms = page.getByRole("region", { name: "Terms" })
  await terms.getByRole("textbox", { name: "Terms" }).press("End")
  await terms.getByRole("textbox", { name: "Terms" }).pressSequentially(" And jars are returned.")
  await terms.getByText("All saved").waitFor()
  await checkAccess(page, "legal pages")
  const read = async () => (await fetch(`${origin}/terms`)).text()
  expect(await read()).not.toContain("jars are returned")
  await terms.getByRole("button", { name: "Publish" }).click()
  await expect.poll(read).toContain("jars are returned")
})

it("can be read everywhere by axe: the front page and the legal pages on a phone, teachers and learners' words in the studio", async () => {
  const { page: visitor } = await openPage(await browser.newContext(phone))
  for (const path of ["/", "/privacy"]) {
    await visitor.goto(origin + path)
    await checkAccess(visitor, path)
    expect(await visitor.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360)
  }
  for (const path of ["/studio/settings/teachers", "/studio/courses/1/words", "/studio/settings"]) {
    await page.goto(origin + path)
    await page.getByRole("heading", { level: 1 }).waitFor()
    await checkAccess(page, path)
  }
})
