// heron screenshots: one current picture of each main view, from the demo data, into docs/screenshots.
import { mkdirSync, rmSync } from "node:fs"
import { join } from "node:path"
import { demoAccount } from "@demo/account"
import { type BrowserContext, chromium, type Page } from "playwright-core"
import { ensureDebian } from "./debian"
import { startDemoSchool } from "./demo-school"
import { progress } from "./say"

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
    await studioPictures(desktop, school.origin)
  } finally {
    await browser.close()
    await school.stop()
    rmSync(data, { recursive: true, force: true })
  }
}

async function take(page: Page, name: string): Promise<void> {
  await page.evaluate(() => document.fonts.ready)
  // A video shows its first picture after a moment, instead of a turning wheel.
  if (await page.locator("video").count()) await page.waitForTimeout(4_000)
  await page.waitForTimeout(500)
  await page.screenshot({ path: join(folder, `${name}.png`) })
  progress(`${name}.png`)
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
  await page.getByRole("link", { name: "Open the first lesson" }).click()
  await page.getByRole("heading", { name: "One cabbage, one spoon of salt" }).waitFor()
  await take(page, "lesson-phone")
  await box.close()
}

async function buyerPictures(phone: BrowserContext, desktop: BrowserContext, origin: string): Promise<void> {
  const wide = await desktop.newPage()
  await wide.goto(`${origin}/a-year`)
  await take(wide, "sales-page")
  await wide.close()
  const page = await phone.newPage()
  await page.goto(`${origin}/a-year/checkout`)
  await page.getByLabel("First name").fill("Ines")
  await page.getByLabel("E-mail address").fill("ines.buyer@letterbox.example")
  await take(page, "checkout-phone")
  const frame = page.frameLocator("#cards")
  await frame.getByText("Test cards").click()
  await frame.getByRole("button", { name: /is charged$/ }).click()
  await page.getByRole("button", { name: "Pay €290.00" }).click()
  await page.waitForURL(/one-more-thing/)
  await page.goto(`${origin}/learn/a-year-in-ferments/8`)
  await take(page, "gate-phone")
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

async function studioPictures(desktop: BrowserContext, origin: string): Promise<void> {
  const page = await desktop.newPage()
  await page.goto(`${origin}/studio/sign-in`)
  await page.getByRole("button", { name: `Sign in as ${demoAccount.email}` }).click()
  await page.waitForURL(`${origin}/studio`)
  await take(page, "today")
  for (const [name, path] of [
    ["funnel", "/studio/funnels/1"],
    ["page-editor", "/studio/funnels/1/steps/1?block=join"],
    ["sequence", "/studio/mail/sequences/3"],
    ["broadcast", "/studio/mail/broadcasts/1"],
    ["delivery", "/studio/mail/delivery"],
    ["effects", "/studio/settings/effects"],
    ["segment", "/studio/people/segments/10"],
    ["course-editor", "/studio/courses/2?lesson=6"],
    ["funnel-money", "/studio/funnels/2?from=beginning&in=money&step=s8"],
    ["offer", "/studio/offers/1"],
    ["ledger", "/studio/ledger"],
  ] as const) {
    await page.goto(origin + path)
    await take(page, name)
  }
  await page.goto(`${origin}/studio/mail/broadcasts/2`)
  await page.getByText("Nothing is amiss.").waitFor()
  await page.getByLabel("Preview line", { exact: true }).evaluate((e) => e.scrollIntoView())
  await take(page, "mail-editor")
  await page.goto(`${origin}/studio/people/import`)
  await page
    .getByLabel("Choose a file")
    .setInputFiles({ name: "autumn fair.csv", mimeType: "text/csv", buffer: Buffer.from(fair) })
  await page.getByRole("heading", { level: 1, name: "autumn fair.csv" }).waitFor()
  await take(page, "import")
}

/** A list as it comes from a fair, with what should not be in it. */
const fair = `E-Mail;Vorname;Nachname;Gruppe;Jars at home;Passwort
ada@letterbox.example;Ada;Lindqvist;brine;4;hunter2
bo@postbox.example;Bo;Håkansen;miso;12;secret1
cy@letterbox.example;Cy;Okafor;;;qwerty
dee@postbox.example;Dee;Marsh;brine;1;letmein
`
