// heron screenshots: one current picture of each main view, from the demo data, into docs/screenshots.
import { mkdirSync, rmSync } from "node:fs"
import { join } from "node:path"
import { demoAccount } from "@demo/account"
import { type BrowserContext, chromium, type Page } from "playwright-core"
import { setClock } from "@/server/clock"
import { configFromEnvironment } from "@/server/config"
import { closeContext } from "@/server/context"
import { openContext } from "@/server/open"
import { beginSession, sessionCookie } from "@/server/person/session"
import { roomPath } from "@/server/webinar/letter/seat"
import { ensureDebian } from "./debian"
import { startDemoSchool } from "./demo-school"
import { progress } from "./say"
import type { School } from "./school"

const folder = join("docs", "screenshots")

export async function takeScreenshots(): Promise<void> {
  ensureDebian("mariadb", "chromium")
  const data = `.test/screenshots-${process.pid}`
  const school = await startDemoSchool(data)
  const browser = await chromium.launch({
    executablePath: "/usr/bin/chromium",
    args: [
      "--no-sandbox",
      "--disable-gpu",
      "--disable-background-networking",
      "--disable-component-update",
      "--disable-sync",
    ],
  })
  try {
    mkdirSync(folder, { recursive: true })
    const desktop = await browser.newContext({ viewport: { width: 1280, height: 800 }, timezoneId: "Europe/Oslo" })
    const phone = await browser.newContext({ viewport: { width: 360, height: 740 }, timezoneId: "Europe/Oslo" })
    await visitorPictures(phone, desktop, school.origin)
    await buyerPictures(phone, desktop, school.origin)
    await studioPictures(desktop, school)
    await affiliatePictures(phone, school)
    // The last ones: they move the clock.
    await roomPictures(phone, desktop, school)
  } finally {
    await browser.close()
    await school.stop()
    rmSync(data, { recursive: true, force: true })
  }
}

async function take(page: Page, name: string): Promise<void> {
  await page.evaluate(() => document.fonts.ready)
  // Pictures in sight, and what is drawn in frames, come later.
  await page.waitForFunction(() => [...document.images].every((i) => i.complete || i.loading === "lazy"), undefined, {
    timeout: 3_000,
  })
  // A video shows its first picture after a moment, instead of a turning wheel.
  if (await page.locator("video").count()) await page.waitForTimeout(4_000)
  await page.waitForTimeout(500)
  await page.screenshot({ path: join(folder, `${name}.png`) })
  progress(`${name}.png`)
}

/** The order of a sale that two affiliates had mentioned. */
async function whySomething(school: School): Promise<string> {
  const s = openContext(configFromEnvironment(school.environment), "screenshots")
  const row = await s.db.row<{ id: number }>(
    "SELECT order_id AS id FROM sale WHERE affiliate_id = 1 AND decision LIKE '%earlier%' ORDER BY order_id DESC LIMIT 1",
  )
  await closeContext(s)
  return `/studio/ledger/orders/${row?.id ?? 1}`
}

/** An affiliate on a phone: their own page, and the lesson that asks to recommend. */
async function affiliatePictures(phone: BrowserContext, school: School): Promise<void> {
  const config = configFromEnvironment(school.environment)
  const s = openContext(config, "screenshots")
  const page = await phone.newPage()
  try {
    const one = async (sql: string) => (await s.db.row<{ id: number }>(sql))!.id
    const cookie = async (realm: "affiliate" | "learn", person: number) =>
      phone.addCookies([
        { name: sessionCookie(config, realm), value: await beginSession(s.db, realm, person), url: school.origin },
      ])
    await cookie("affiliate", await one("SELECT person_id AS id FROM affiliate WHERE id = 1"))
    await page.goto(`${school.origin}/affiliate`)
    await take(page, "portal-phone")
    await cookie("learn", await one("SELECT person_id AS id FROM affiliate WHERE id = 6"))
    const lesson = await one(
      "SELECT l.id FROM lesson l JOIN course c ON c.id = l.course_id WHERE c.slug = 'a-year-in-ferments' ORDER BY l.position DESC LIMIT 1 OFFSET 1",
    )
    await page.goto(`${school.origin}/learn/a-year-in-ferments/${lesson}`)
    await take(page, "lesson-phone")
  } finally {
    await page.close()
    await closeContext(s)
  }
}

/** The room of the demo's webinar, tomorrow, with somebody at a desk and somebody on a phone. */
async function roomPictures(phone: BrowserContext, desktop: BrowserContext, school: School): Promise<void> {
  const s = openContext(configFromEnvironment(school.environment), "screenshots")
  try {
    const seats = await s.db.rows<{ id: number; starts: Date }>(
      "SELECT r.id, d.starts_at AS starts FROM registration r JOIN webinar_date d ON d.id = r.date_id WHERE d.settled_at IS NULL AND r.state = 'registered' ORDER BY r.id LIMIT 2",
    )
    const at = (minute: number) => setClock(s.db, seats[0]!.starts.getTime() + minute * 60_000)
    await at(31)
    const pages: Page[] = []
    for (const [i, context] of [desktop, phone].entries()) {
      const page = await context.newPage()
      await page.goto(school.origin + roomPath(s.config, seats[i]!.id))
      await page.getByRole("button", { name: "Go in" }).click()
      await page.locator("video").waitFor()
      pages.push(page)
    }
    for (const [i, says] of ["Good evening from Bergen!", "Does the white floor change the taste?"].entries()) {
      await pages[i]!.getByLabel("Say something").fill(says)
      if (i === 1) await pages[i]!.getByLabel("It is a question").check()
      await pages[i]!.getByRole("button", { name: "Send", exact: true }).click()
      await pages[0]!.getByRole("log").getByText(says).waitFor()
    }
    await pages[1]!.getByRole("button", { name: "3 %" }).click()
    await at(41)
    for (const page of pages) await page.getByRole("link", { name: "Have a look" }).waitFor()
    await pages[0]!.evaluate(() => (document.activeElement as HTMLElement | null)?.blur())
    await take(pages[0]!, "room")
  } finally {
    await closeContext(s)
  }
}

async function visitorPictures(phone: BrowserContext, desktop: BrowserContext, origin: string): Promise<void> {
  const page = await phone.newPage()
  const email = "ines@letterbox.example"
  await page.goto(`${origin}/first-crock?utm_source=garden%20letter`)
  await take(page, "opt-in-phone")
  await page.getByLabel("First name").fill("Ines")
  await page.getByLabel("E-mail address").fill(email)
  await page.getByRole("button", { name: "Send me the first lesson" }).click()
  await page.waitForURL(/check-your-inbox/)
  const box = await desktop.newPage()
  await waitForMail(origin, email, 1)
  await box.goto(`${origin}/standins/mailbox?to=${email}`)
  const link = await box.frameLocator("iframe").getByRole("link", { name: "Confirm and start" }).getAttribute("href")
  await page.goto(link!)
  await page.getByRole("button", { name: "Yes, that's me. Let me in" }).click()
  await page.waitForURL(/welcome/)
  await page.getByRole("link", { name: "Open the first lesson" }).click()
  await page.getByRole("heading", { name: "One cabbage, one spoon of salt" }).waitFor()
  await box.close()
}

async function buyerPictures(phone: BrowserContext, desktop: BrowserContext, origin: string): Promise<void> {
  const wide = await desktop.newPage()
  await wide.goto(`${origin}/a-year`)
  await take(wide, "sales-page")
  await wide.close()
  const page = await phone.newPage()
  await page.goto(`${origin}/a-year/checkout`)
  await take(page, "checkout-phone")
  await page.getByLabel("First name").fill("Ines")
  await page.getByLabel("E-mail address").fill("ines.buyer@letterbox.example")
  const frame = page.frameLocator("#cards")
  await frame.getByText("Test cards").click()
  await frame.getByRole("button", { name: /is charged$/ }).click()
  await page.getByRole("button", { name: "Pay €290.00" }).click()
  await page.waitForURL(/one-more-thing/)
  await page.close()
}

async function waitForMail(origin: string, to: string, n: number): Promise<void> {
  for (let i = 0; i < 100; i++) {
    const found = (await (await fetch(`${origin}/standins/mailbox/messages?to=${to}`)).json()) as unknown[]
    if (found.length >= n) return
    await new Promise((r) => setTimeout(r, 100))
  }
  throw new Error(`no ${n} messages came for ${to}`)
}

async function studioPictures(desktop: BrowserContext, school: School): Promise<void> {
  const { origin } = school
  const page = await desktop.newPage()
  await page.goto(`${origin}/studio/sign-in`)
  await page.getByRole("button", { name: `Sign in as ${demoAccount.email}` }).click()
  await page.waitForURL(`${origin}/studio`)
  await take(page, "today")
  for (const [name, path] of [
    ["funnel", "/studio/funnels/1"],
    ["page-editor", "/studio/funnels/1/steps/1?block=join"],
    ["sequence", "/studio/mail/sequences/3"],
    ["numbers", "/studio/numbers"],
    ["change-first", "/studio/numbers/change?funnel=2"],
    ["groups", "/studio/numbers/groups"],
    ["look", "/studio/settings/look"],
    ["why-counted", await whySomething(school)],
    ["funnel-forecast", "/studio/funnels/2?over=forecast"],
  ] as const) {
    await page.goto(origin + path)
    await take(page, name)
  }
  await editorPictures(page, origin)
}

/** The editor: what can be added, a part that is being dragged, what is different since a version. */
async function editorPictures(page: Page, origin: string): Promise<void> {
  await page.goto(`${origin}/studio/funnels/2/steps/5`)
  const edge = page.getByRole("navigation", { name: "On this page" })
  const frame = page.frameLocator("iframe[title$='it will stand']")
  const heading = frame.locator("h1")
  await heading.click()
  await page.keyboard.press("Control+a")
  await page.keyboard.type("Twelve crocks, one for each month of a year")
  await page.keyboard.press("Escape")
  await page.getByText("All saved").waitFor()
  await page.keyboard.press("n")
  await page.keyboard.type("guar")
  await page.frameLocator("iframe[title$='as it would look here']").getByText("days").first().waitFor()
  await take(page, "editor-adding")
  await page.keyboard.press("Escape")
  const tab = (await edge.getByRole("button", { name: /^text/ }).first().boundingBox())!
  await page.mouse.move(tab.x + 10, tab.y + 10)
  await page.mouse.down()
  await page.mouse.move(tab.x + 120, tab.y - 20, { steps: 4 })
  await page.mouse.move(tab.x + 300, tab.y - 150, { steps: 4 })
  await take(page, "editor-dragging")
  await page.keyboard.press("Escape")
  await page.mouse.up()
  await page.getByRole("button", { name: "Versions" }).click()
  await page.getByRole("region", { name: "Versions" }).getByRole("listitem").last().getByRole("button").click()
  await page.getByRole("button", { name: "Bring all of it back" }).waitFor()
  await take(page, "editor-versions")
}
