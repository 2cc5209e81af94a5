// The visitor's way, on a phone: page, form, mailbox, press, welcome, lessons, and leaving again.

import type { Browser } from "playwright-core"
import { afterAll, beforeAll, expect, inject, it } from "vitest"
import {
  checkAccess,
  desktop,
  linkIn,
  mailArrived,
  mailbox,
  openBrowser,
  openPage,
  phone,
  signIn,
} from "../support/browser"

const origin = inject("origin")
let browser: Browser
beforeAll(async () => {
  browser = await openBrowser()
})
afterAll(() => browser.close())

it("goes from the opt-in page to the last lesson, and the marketer sees it", async () => {
  const context = await browser.newContext(phone)
  const { page, calm } = await openPage(context)
  const email = "ines.visitor@letterbox.example"
  await page.goto(`${origin}/first-crock?utm_source=garden%20letter`)
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360)
  await checkAccess(page, "opt-in page")
  await page.getByLabel("First name").fill("Ines")
  await page.getByLabel("E-mail address").fill("ines@visitor")
  await page.getByRole("button", { name: "Send me the first lesson" }).click()
  await page.getByRole("alert").waitFor()
  expect(await page.getByLabel("First name").inputValue()).toBe("Ines") // what was typed stays
  await checkAccess(page, "opt-in page with an error")
  await page.getByLabel("E-mail address").fill(email)
  await page.getByRole("button", { name: "Send me the first lesson" }).click()
  await page.waitForURL(`${origin}/first-crock/check-your-inbox`)
  await page.getByText(`We wrote to ${email}.`).waitFor()
  await page.getByRole("button", { name: "Send it once more" }).click()
  await page.getByText("It was sent a moment ago.").waitFor()
  await checkAccess(page, "check your inbox")

  const confirmation = await mailArrived(origin, email)
  expect(confirmation.subject).toBe("One press, and “The First Crock” is yours")
  await page.goto(await linkIn(origin, confirmation, "/confirm/"))
  await checkAccess(page, "confirm")
  await page.getByRole("button", { name: "Yes, that's me. Let me in" }).click()
  await page.waitForURL(`${origin}/first-crock/welcome`)
  await checkAccess(page, "welcome")
  await page.getByRole("link", { name: "Open the first lesson" }).click()
  await page.getByRole("heading", { name: "One cabbage, one spoon of salt" }).waitFor()
  await page.goto(`${origin}/learn/the-first-crock`)
  await page.getByRole("heading", { name: "The First Crock" }).waitFor()
  await checkAccess(page, "course")
  await page.getByRole("link", { name: "Open the first lesson" }).click()
  await page.getByRole("heading", { name: "One cabbage, one spoon of salt" }).waitFor()
  await checkAccess(page, "lesson")
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360)
  await page.getByRole("button", { name: "Done. On to: Knead until it weeps" }).click()
  await page.getByRole("heading", { name: "Knead until it weeps" }).waitFor()
  await page.getByText("1 of 5 lessons done").waitFor()

  // The first lesson's mail came at once; with the clock moved on, the second comes in her morning.
  await mailArrived(origin, email, 2)
  const studio = await openPage(await browser.newContext(desktop))
  await signIn(studio.page, origin)
  for (let days = 0; days < 2; days++) {
    await studio.page.getByRole("button", { name: /^The clock/ }).click()
    await studio.page.getByRole("menuitem", { name: "A day" }).click()
    await studio.page.getByText("The clock has moved on").waitFor({ state: "attached", timeout: 60_000 })
    await studio.page.reload()
  }
  const second = await mailArrived(origin, email, 3)
  expect((await mailbox(origin, email)).map((m) => m.subject)).toContain("2 of 5: Knead until it weeps")
  await page.goto(await linkIn(origin, second, "/go/"))
  await page.getByRole("button", { name: /^Done/ }).waitFor()

  await studio.page.goto(`${origin}/studio/people?search=ines.visitor`)
  await studio.page.getByRole("link", { name: "Ines" }).click()
  await studio.page.getByText("finished the lesson “One cabbage, one spoon of salt”").waitFor()
  await studio.page.getByText(/mail comes in the time zone Asia\/Kath?mandu/).waitFor()
  await studio.page.getByText("followed a link in an e-mail").waitFor()

  // Leaving, and changing one's mind.
  await page.goto(await linkIn(origin, second, "/mails/"))
  await checkAccess(page, "leaving")
  await page.getByRole("button", { name: "Stop all of these e-mails" }).click()
  await page.getByText("No more lessons or news will come to you").waitFor()
  await page.getByRole("button", { name: "Send them again" }).click()
  await page.getByText("Good. The e-mails come again.").waitFor()
  calm()
  studio.calm()
  await context.close()
})

it("works without scripts, and shows a stranger and a member the same page", async () => {
  const context = await browser.newContext({ ...phone, javaScriptEnabled: false })
  const { page } = await openPage(context)
  for (const email of ["noscript@letterbox.example", "noscript@letterbox.example"]) {
    await page.goto(`${origin}/first-crock`)
    await page.getByLabel("E-mail address").fill(email)
    await page.getByRole("button", { name: "Send me the first lesson" }).click()
    await page.waitForURL(`${origin}/first-crock/check-your-inbox`)
  }
  const mail = await mailArrived(origin, "noscript@letterbox.example")
  await page.goto(await linkIn(origin, mail, "/confirm/"))
  await page.getByRole("button", { name: "Yes, that's me. Let me in" }).click()
  await page.waitForURL(`${origin}/first-crock/welcome`)
  await mailArrived(origin, "noscript@letterbox.example", 2) // the confirmation, and the first lesson
  expect(await mailbox(origin, "noscript@letterbox.example")).toHaveLength(2)
  await context.close()
})

it("shows the gate to whoever isn't in, and a way in by mail to whoever is", async () => {
  const context = await browser.newContext(phone)
  const { page } = await openPage(context)
  await page.goto(`${origin}/learn/the-first-crock`)
  await page.getByRole("heading", { name: "Sign in to your courses" }).waitFor()
  await checkAccess(page, "learning area sign-in")
  await page.getByRole("link", { name: "See what “The First Crock” is about" }).click()
  await page.waitForURL(`${origin}/first-crock`)
  await page.goBack()
  const email = "noscript@letterbox.example"
  const before = (await mailbox(origin, email)).length
  await page.getByLabel("E-mail address").fill(email)
  await page.getByRole("button", { name: "Go on" }).click()
  await checkAccess(page, "learning area sign-in, second step")
  await page.getByRole("button", { name: "Mail me the link" }).click()
  await page.getByText(`If ${email} is known here`).waitFor()
  const wayIn = await mailArrived(origin, email, before + 1)
  await page.goto(await linkIn(origin, wayIn, "/way-in/"))
  await page.getByRole("button", { name: "Sign me in here" }).click()
  await page.getByRole("heading", { name: "The First Crock" }).waitFor()
  await page.goto(`${origin}/learn`)
  await page.getByRole("heading", { name: "My courses" }).waitFor()
  await checkAccess(page, "my courses")
  // A password of their own, and in again by it, straight to where they wanted to go.
  await page.getByRole("link", { name: "Account" }).click()
  await page.getByLabel("New password").fill("the third jar on the left")
  await page.getByRole("button", { name: "Set the password" }).click()
  await page.getByText("It is set").waitFor()
  await checkAccess(page, "learner's account")
  await page.getByRole("button", { name: "Sign out" }).click()
  await page.getByRole("heading", { name: "Sign in to your courses" }).waitFor()
  await page.goto(`${origin}/learn/the-first-crock/2`)
  await page.getByLabel("E-mail address").fill(email)
  await page.getByRole("button", { name: "Go on" }).click()
  await page.getByLabel("Or your password").fill("not this one at all")
  await page.getByRole("button", { name: "Sign in" }).click()
  await page.getByText("don't fit together").waitFor()
  await page.getByLabel("Or your password").fill("the third jar on the left")
  await page.getByRole("button", { name: "Sign in" }).click()
  await page.waitForURL(`${origin}/learn/the-first-crock/2`)
  // Signed in, but not admitted to this: to the page that sells it.
  await page.goto(`${origin}/learn/a-year-in-ferments`)
  await page.waitForURL((url) => url.pathname === "/a-year")
  await page.goto(`${origin}/studio`) // a learner's session opens no studio
  await page.getByRole("heading", { name: "Sign in to the studio" }).waitFor()
  await context.close()
})
