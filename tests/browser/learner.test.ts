// A learner's way: let in by the school and by an invitation, a quiz, work that is handed in and answered, notes, comments, a
// search, what isn't open yet, and what isn't theirs.

import type { Browser, BrowserContext, Page } from "playwright-core"
import { afterAll, beforeAll, expect, inject, it } from "vitest"
import { checkAccess, desktop, linkIn, mailArrived, openBrowser, openPage, phone, signIn } from "../support/browser"

const origin = inject("origin")
const email = "nadia.learner@letterbox.example"
let browser: Browser
let studio: Page
let learning: BrowserContext
let page: Page
let calm: () => void
beforeAll(async () => {
  browser = await openBrowser()
  ;({ page: studio } = await openPage(await browser.newContext(desktop)))
  await signIn(studio, origin)
  learning = await browser.newContext(phone)
  ;({ page, calm } = await openPage(learning))
})
afterAll(() => browser.close())

const fits = async () =>
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360)

it("is let in by hand, told by mail, and goes straight to the course", async () => {
  await studio.goto(`${origin}/studio/courses/2/members`)
  const letIn = studio.getByRole("region", { name: "Let people in" })
  await letIn.getByLabel("Addresses", { exact: true }).fill(`Nadia <${email}>\nnobody at all`)
  await letIn.getByRole("button", { name: "Let them in" }).click()
  await letIn.getByText("1 let in, 1 not:").waitFor()
  await letIn.getByText("not an e-mail address").waitFor()
  const mail = await mailArrived(origin, email, 1)
  await page.goto(await linkIn(origin, mail, "/way-in/"))
  await page.getByRole("button", { name: "Sign me in here" }).click()
  await page.waitForURL(`${origin}/learn/a-year-in-ferments`)
  await page.getByText("0 of 12 lessons done").waitFor()
  await page.getByText(/^Opens on .* at 06:00, 30 days after you joined$/).waitFor()
  await fits()
  await checkAccess(page, "a course with locked lessons")
})

it("answers a quiz, reads why, and hands work in, which the teacher answers", async () => {
  await page.getByRole("link", { name: "Open the first lesson" }).click()
  const quiz = page.getByRole("form", { name: "Quiz" })
  await quiz.getByLabel(/How many grams/).fill("30,5")
  await quiz.getByLabel("Radish").check()
  await quiz.getByLabel(/Leave it/).check()
  await checkAccess(page, "a lesson with a quiz")
  await fits()
  await quiz.getByRole("button", { name: "See how I did" }).click()
  await quiz.getByText("Not passed yet: 1 of 3 right.").waitFor()
  await quiz.getByText("Roots are patient; radish is not.").waitFor()
  await quiz.getByRole("button", { name: "Try again" }).click()
  // Nothing is sent by that: the last try is still the one that was made.
  await quiz.getByText("The last time: 1 of 3 right.").waitFor()
  await quiz.getByLabel(/How many grams/).fill("30")
  for (const root of ["Carrot", "Celeriac", "Swede"]) await quiz.getByLabel(root).check()
  await quiz.getByLabel(/Push it under/).check()
  await quiz.getByRole("button", { name: "See how I did" }).click()
  await quiz.getByText("Passed: 3 of 3 right.").waitFor()

  const work = page.getByRole("form", { name: "Assignment" })
  await work.getByLabel("What you hand in").fill("One carrot.\nAnd salt.")
  await work.getByRole("button", { name: "Hand it in" }).click()
  await work.getByText("Your teacher answers by mail.").waitFor()
  await studio.goto(`${origin}/studio/courses/2/hand-ins`)
  const row = studio.getByRole("listitem").filter({ hasText: "One carrot." })
  await row.getByLabel("Answer to Nadia").fill("How much salt?")
  await row.getByRole("button", { name: "Once more" }).click()
  await row.getByText("Asked for again").waitFor()
  await mailArrived(origin, email, 2)
  await page.reload()
  await work.getByText("How much salt?").waitFor()
  await work.getByLabel("What you hand in").fill("One carrot, and 30 grams.")
  await work.getByRole("button", { name: "Hand it in anew" }).click()
  await work.getByText("Your teacher answers by mail.").waitFor()
  await studio.reload()
  await row
    .or(studio.getByRole("listitem").filter({ hasText: "30 grams." }))
    .first()
    .waitFor()
  await studio
    .getByRole("listitem")
    .filter({ hasText: "and 30 grams." })
    .getByRole("button", { name: "Accept" })
    .click()
  await studio.getByRole("listitem").filter({ hasText: "and 30 grams." }).getByText("Accepted").waitFor()
  await page.reload()
  await work.getByText("Accepted.").waitFor()
})

it("keeps notes, finds lessons, and meets what isn't open yet", async () => {
  await page.getByText("My notes").click()
  await page.getByLabel("My notes on this lesson").fill("Buy a bigger jar")
  await page.getByText("All saved").waitFor()
  await page.reload()
  expect(await page.getByLabel("My notes on this lesson").inputValue()).toBe("Buy a bigger jar")
  await page.getByText(/All lessons of/).click()
  await page
    .getByRole("link", { name: /March: nettles/ })
    .first()
    .click()
  await page.getByRole("heading", { name: "March: nettles and wild garlic" }).waitFor()
  await page.getByText("It opens by itself; there is nothing you need to do.").waitFor()
  await checkAccess(page, "a gate: not open yet")
  await fits()
  await page.goto(`${origin}/learn`)
  await page.getByLabel("Search in my lessons").fill("celeriac")
  await page.getByRole("button", { name: "Search" }).click()
  await page
    .getByRole("region", { name: "Found" })
    .getByRole("link", { name: /January/ })
    .waitFor()
  calm()
})

it("comes in by an invitation, comments, and is answered", async () => {
  await studio.goto(`${origin}/studio/courses/1/members`)
  const invitations = studio.getByRole("region", { name: "Invitations" })
  await invitations.getByLabel("A new one, for whom").fill("The garden club")
  await invitations.getByLabel("How many").fill("1")
  await studio.context().grantPermissions(["clipboard-read", "clipboard-write"], { origin })
  await invitations.getByRole("button", { name: "Make the link" }).click()
  await invitations.getByText("0 of 1 used").waitFor()
  await invitations.getByRole("button", { name: "Copy the link" }).click()
  await invitations.getByRole("button", { name: "Copied" }).waitFor()
  const link = await studio.evaluate(() => navigator.clipboard.readText())
  await page.goto(link)
  await page.getByRole("heading", { name: "You are invited to “The First Crock”" }).waitFor()
  await checkAccess(page, "an invitation")
  await page.getByLabel("E-mail address").fill(email)
  await page.getByRole("button", { name: "Let me in" }).click()
  await page.getByText("The way in is on its way").waitFor()
  await page.goto(link)
  await page.getByText("used up or has ended").waitFor()

  await page.goto(`${origin}/learn/the-first-crock/1`)
  const comments = page.getByRole("region", { name: "Comments" })
  await comments.getByLabel("Your comment").fill("Does it <b>matter</b> which cabbage?")
  await comments.getByRole("button", { name: "Write it" }).click()
  await comments.getByText("Does it <b>matter</b> which cabbage?").waitFor()
  await studio.goto(`${origin}/studio/courses/1/comments`)
  const row = studio.getByRole("listitem").filter({ hasText: "which cabbage?" })
  await row.getByRole("button", { name: "Answer" }).click()
  await row.getByLabel("Answer to Nadia").fill("The firmest you find.")
  await row.getByRole("button", { name: "Answer" }).click()
  await row.getByText("Answered").waitFor()
  await page.reload()
  await comments.getByText("The firmest you find.").waitFor()
  await checkAccess(page, "a lesson with comments")
})

it("tastes a lesson as a stranger, and is led on from the rest", async () => {
  const { page: stranger } = await openPage(await browser.newContext(phone))
  await stranger.goto(`${origin}/learn/a-year-in-ferments/10`)
  await stranger.getByRole("heading", { name: "May: radish in a hurry" }).waitFor()
  await stranger.getByText("This lesson is a free taste").waitFor()
  await checkAccess(stranger, "a free taste")
  await stranger.goto(`${origin}/learn/a-year-in-ferments/11`)
  await stranger.getByRole("heading", { name: "Sign in to your courses" }).waitFor()
  expect(new URL(stranger.url()).searchParams.get("to")).toBe("/learn/a-year-in-ferments/11")
  await stranger.goto(`${origin}/learn/certificate/0000-0000-0000-0000`)
  await stranger.getByRole("heading", { name: "No certificate has this number" }).waitFor()
})
