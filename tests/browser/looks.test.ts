// What visitors see, in every look: read by axe at three widths, never wider than the screen; and chosen in the studio.
import type { Browser } from "playwright-core"
import { afterAll, beforeAll, expect, inject, it } from "vitest"
import { firstScreens } from "@/core/look/kind"
import { lookNames } from "@/core/look/list"
import { checkAccess, desktop, openBrowser, openPage, signIn } from "../support/browser"
import { made, pageOf, stand } from "../support/every-block"

const origin = inject("origin")
let browser: Browser
beforeAll(async () => {
  browser = await openBrowser()
})
afterAll(() => browser.close())

it.each(lookNames)("every block can be read in the look %s, on a phone, a tablet and a desktop", async (look) => {
  const context = await browser.newContext(desktop)
  const { page } = await openPage(context)
  const blocks = [made("headline", 99), ...stand.filter((k) => k !== "headline").map(made)]
  const held = blocks.map((b, i) => ({
    id: `s${i}`,
    kind: "section" as const,
    tone: (["plain", "tinted", "dark"] as const)[i % 3]!,
    blocks: [b],
  }))
  for (const [width, height] of [
    [360, 740],
    [768, 1024],
    [1280, 800],
  ] as const) {
    await page.setViewportSize({ width, height })
    await page.setContent(pageOf([made("headline", 98), made("text", 97), made("picture", 96), ...held], look))
    await checkAccess(page, `${look} at ${width}`)
    expect(await page.evaluate(() => document.documentElement.scrollWidth), `${look}`).toBeLessThanOrEqual(width)
  }
  await page.setViewportSize({ width: 360, height: 740 })
  for (const first of firstScreens) {
    const blocks = (["headline", "text", "picture", "form"] as const).map(made)
    await page.setContent(pageOf(blocks, look, { first }))
    const button = await page.locator("form .go").boundingBox()
    expect(button && button.y + button.height, `the form in ${look}, ${first}`).toBeLessThanOrEqual(740)
  }
  await context.close()
})

it("a look is chosen on one's own page, worn by what is published in one step, and taken back", async () => {
  const context = await browser.newContext(desktop)
  const { page, calm } = await openPage(context)
  await signIn(page, origin)
  await page.goto(`${origin}/studio/settings/look`)
  await page.getByRole("radio", { name: "Workshop" }).check()
  await page.getByText("Not worn yet").waitFor()
  await page.frameLocator("iframe[title='As chosen']").getByRole("heading", { level: 1 }).waitFor()
  await checkAccess(page, "choosing a look")
  await page.getByRole("button", { name: "Wear it" }).click()
  await page.getByText("This is worn now.").waitFor()
  const style = async () =>
    (await (await fetch(`${origin}/first-crock`)).text()).match(/@font-face\{font-family:'([^']+)'/)?.[1]
  await expect.poll(style).toBe("Instrument Sans")
  await page.getByText("Worn before").click()
  await page.getByRole("button", { name: "Choose it again" }).first().click()
  await page.getByRole("button", { name: "Wear it" }).click()
  await page.getByText("This is worn now.").waitFor()
  await expect.poll(style).toBe("Bricolage Grotesque")
  calm()
  await context.close()
})
