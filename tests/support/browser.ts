// Chromium for the browser tests, driven by role and label as a person would.
import { readFileSync } from "node:fs"
import { createRequire } from "node:module"
import { demoAccount } from "@demo/account"
import { type Browser, type BrowserContext, chromium, type Page } from "playwright-core"
import { Temporal } from "temporal-polyfill"
import { expect, inject } from "vitest"
import { clockOf } from "@/server/clock"
import { type Database, openDatabase } from "@/server/db/pool"

const axeSource = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8")

export function openBrowser(): Promise<Browser> {
  return chromium.launch({
    executablePath: "/usr/bin/chromium",
    args: [
      "--no-sandbox",
      "--disable-gpu",
      "--disable-quic",
      "--no-first-run",
      "--disable-background-networking",
      "--disable-component-update",
      "--disable-sync",
    ],
  })
}

// Without a window Chromium calls itself a program, whose looks aren't counted.
export const phone = {
  userAgent:
    "Mozilla/5.0 (Linux; Android 10; K) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Mobile Safari/537.36",
  viewport: { width: 360, height: 740 },
  hasTouch: true,
  isMobile: true,
  timezoneId: "Asia/Kathmandu",
}
export const desktop = {
  userAgent: "Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36",
  viewport: { width: 1280, height: 800 },
  timezoneId: "Europe/Oslo",
}

/** A page that notes what went wrong in it; `calm` fails where something did. */
export async function openPage(context: BrowserContext): Promise<{ page: Page; calm: () => void }> {
  const page = await context.newPage()
  page.setDefaultTimeout(20_000)
  const trouble: string[] = []
  page.on("pageerror", (e) => trouble.push(e.message))
  page.on("console", (m) => {
    // Frames of the editor run no scripts, and say so where axe asks them.
    const expected = /status of (4\d\d|503)|^Blocked script execution in 'about:srcdoc'/
    if (m.type() === "error" && !expected.test(m.text())) trouble.push(m.text())
  })
  return { page, calm: () => expect(trouble).toEqual([]) }
}

const inOslo = (instant: number) => Temporal.Instant.fromEpochMilliseconds(instant).toZonedDateTimeISO("Europe/Oslo")

async function askSchool<T>(ask: (db: Database) => Promise<T>): Promise<T> {
  const db = openDatabase(inject("schoolDatabase"), 1)
  try {
    return await ask(db)
  } finally {
    await db.end()
  }
}

/** Business time, where the demo school is. Other tests may have moved it on. */
export const schoolNow = () => askSchool(async (db) => inOslo(await clockOf(db, "test").now()))

/** The editor of the page at an address there, as a path. */
export const editorOf = (path: string) =>
  askSchool(async (db) => {
    const row = await db.row<{ id: number; funnel: number }>(
      "SELECT id, funnel_id AS funnel FROM step WHERE path = ?",
      [path],
    )
    return `/studio/funnels/${row!.funnel}/steps/${row!.id}`
  })

/** The day of the next date of a webinar there. */
export const nextDateOf = (webinar: string) =>
  askSchool(async (db) => {
    const row = await db.row<{ at: Date }>(
      "SELECT MIN(d.starts_at) AS at FROM webinar_date d JOIN webinar w ON w.id = d.webinar_id WHERE w.name = ? AND d.starts_at > ?",
      [webinar, new Date(await clockOf(db, "test").now())],
    )
    return inOslo(row!.at.getTime()).toPlainDate()
  })

export async function signIn(page: Page, origin: string): Promise<void> {
  await page.goto(`${origin}/studio/sign-in`)
  await page.getByLabel("E-mail address", { exact: true }).fill(demoAccount.email)
  await page.getByLabel("Password").fill(demoAccount.password)
  await page.getByRole("button", { name: "Sign in", exact: true }).click()
  await page.waitForURL(`${origin}/studio`)
}

/** Nothing on the page waits to be saved, and it stays so: a save that sets off the next one never ends. */
export async function allSaved(page: Page): Promise<void> {
  await page.getByText("All saved").first().waitFor()
  const calm = async () => {
    if (await page.getByText("Saving…").count()) return false
    await page.waitForTimeout(150)
    return (await page.getByText("Saving…").count()) === 0
  }
  await expect.poll(calm, { timeout: 20_000 }).toBe(true)
}

/** Until the river answers keys: its cards stand in the HTML before their script has come. */
export async function riverReady(page: Page): Promise<void> {
  await page.waitForFunction(() =>
    Object.keys(document.querySelector("[data-node]") ?? {}).some((key) => key.startsWith("__reactProps")),
  )
}

/** WCAG 2.2 A and AA by axe; anything it finds is printed with its place. */
export async function checkAccess(page: Page, where: string): Promise<void> {
  // A title may be streamed in after the rest; the one before it goes first, and for a moment there is none.
  await page.waitForFunction(
    () => {
      const w = window as unknown as { steady?: { title: string; since: number } }
      if (w.steady?.title !== document.title) w.steady = { title: document.title, since: Date.now() }
      return document.title !== "" && Date.now() - w.steady.since >= 300
    },
    undefined,
    { polling: 50 },
  )
  // By way of the debugger, so that the page's content security policy stays as it is.
  await page.evaluate(axeSource)
  const found = await page.evaluate(async () => {
    const axe = (
      window as unknown as {
        axe: {
          run: (
            c: unknown,
            o: unknown,
          ) => Promise<{
            violations: { id: string; help: string; nodes: { html: string; failureSummary: string }[] }[]
          }>
        }
      }
    ).axe
    const result = await axe.run(
      { exclude: [["iframe"]] },
      { runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"], iframes: false },
    )
    return result.violations.map(
      (v) =>
        `${v.id}: ${v.help} — ${v.nodes
          .slice(0, 3)
          .map((n) => `${n.html.slice(0, 140)} ${n.failureSummary.slice(0, 200)}`)
          .join(" | ")}`,
    )
  })
  expect(found, where).toEqual([])
}

export type MailboxMessage = { id: number; from: string; to: string; subject: string; date: string }

export async function mailbox(origin: string, to: string): Promise<MailboxMessage[]> {
  return (await (
    await fetch(`${origin}/standins/mailbox/messages?to=${encodeURIComponent(to)}`)
  ).json()) as MailboxMessage[]
}

/** Waits for the n-th message to an address, and gives the newest. */
export async function mailArrived(origin: string, to: string, n = 1): Promise<MailboxMessage> {
  for (let i = 0; i < 100; i++) {
    const found = await mailbox(origin, to)
    if (found.length >= n) return found[0]!
    await new Promise((r) => setTimeout(r, 150))
  }
  throw new Error(`no ${n} messages came for ${to}`)
}

/** The plain text of a message and the first of our links in it that begins so. */
export async function linkIn(origin: string, message: MailboxMessage, path: string): Promise<string> {
  const { simpleParser } = await import("mailparser")
  const raw = await (await fetch(`${origin}/standins/mailbox/messages/${message.id}`)).text()
  const mail = await simpleParser(raw)
  const link = new RegExp(`${origin}${path}[\\w./-]*`).exec(mail.text ?? "")?.[0]
  if (!link) throw new Error(`no link ${path} in “${message.subject}”`)
  return link
}
