// The media place, from a picture that is brought in to one that is cut, put in another's place and removed; and the pages of Settings and of a
// course that are about what visitors see, read by axe.
import { readFileSync } from "node:fs"
import type { Browser, BrowserContext, Page } from "playwright-core"
import sharp from "sharp"
import { afterAll, beforeAll, expect, inject, it } from "vitest"
import { checkAccess, desktop, editorOf, openBrowser, openPage, phone, signIn } from "../support/browser"

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

/** Files that are let go above the page, or pasted into it. */
const bring = async (how: "drop" | "paste", file: { name: string; mimeType: string; buffer: Buffer }) =>
  page.evaluate(
    ([event, name, type, base64]) => {
      const data = new DataTransfer()
      data.items.add(new File([Uint8Array.from(atob(base64!), (c) => c.charCodeAt(0))], name!, { type: type! }))
      const how = { bubbles: true, cancelable: true }
      document.body.dispatchEvent(
        event === "drop"
          ? new DragEvent("drop", { ...how, dataTransfer: data })
          : new ClipboardEvent("paste", { ...how, clipboardData: data }),
      )
    },
    [how, file.name, file.mimeType, file.buffer.toString("base64")],
  )

it("a film is dropped on a page, gets chapters and a picture of itself; a picture is pasted; and all pages take one form", async () => {
  const editor = origin + (await editorOf("a-year/one-more-thing"))
  await page.goto(editor)
  const settings = page.getByRole("region", { name: "Settings" })
  const buffer = readFileSync(new URL("../../demo/videos/knead.mp4", import.meta.url))
  await bring("drop", { name: "let-go.mp4", mimeType: "video/mp4", buffer })
  await settings.getByRole("heading", { name: "Video" }).waitFor()
  await settings.getByLabel("Chapters").fill("0:01 Kneading\n0:02 And again")
  await settings.getByText("Take the picture from the film").click()
  await expect
    .poll(() => settings.locator("details video").evaluate((v) => (v as HTMLVideoElement).videoWidth))
    .toBeGreaterThan(0)
  await settings.getByRole("button", { name: "Keep this picture" }).click()
  const poster = settings.getByLabel("Picture until it plays")
  await expect.poll(() => poster.evaluate((e) => (e as HTMLSelectElement).selectedOptions[0]!.text)).toMatch(/let-go/)
  const shown = page.frameLocator("iframe[title$='it will stand']")
  await shown.getByRole("link", { name: "And again" }).waitFor()
  await bring("paste", await png("pasted.png", 640, 480))
  await settings.getByRole("heading", { name: "Picture" }).waitFor()
  await page.getByRole("button", { name: "Page", exact: true }).click()
  await settings.getByLabel("Its ground").selectOption("tinted")
  await settings.getByRole("button", { name: "All pages of this funnel like this" }).click()
  await settings.getByText("They all have this first screen, ground and width now.").waitFor()
  await page.getByText("All saved").waitFor()
  await page.goto(origin + (await editorOf("a-year/checkout")))
  await page.getByRole("button", { name: "Page", exact: true }).click()
  await expect.poll(() => settings.getByLabel("Its ground").inputValue()).toBe("tinted")
  await page.goto(editor)
  await shown.getByRole("link", { name: "And again" }).waitFor()
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
