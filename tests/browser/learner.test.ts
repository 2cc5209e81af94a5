// A learner's way: let in by the school and by an invitation, a quiz, work that is handed in and answered, notes, comments, a
// search, what isn't open yet, and what isn't theirs.

import type { Browser, BrowserContext, Page } from "playwright-core"
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
  await work
    .getByLabel("A file, if you like")
    .setInputFiles({ name: "my jar.txt", mimeType: "text/plain", buffer: Buffer.from("A drawing of a jar.") })
  await work.getByRole("button", { name: "Hand it in" }).click()
  await work.getByText("Your teacher answers by mail.").waitFor()
  await studio.goto(`${origin}/studio/courses/2/hand-ins`)
  const row = studio.getByRole("listitem").filter({ hasText: "One carrot." })
  const [handed] = await Promise.all([
    studio.waitForEvent("download"),
    row.getByRole("link", { name: "my jar.txt" }).click(),
  ])
  expect(handed.suggestedFilename()).toBe("my jar.txt")
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
  // In the list, and no more in the field it was typed in.
  await comments.getByRole("paragraph").filter({ hasText: "Does it <b>matter</b> which cabbage?" }).waitFor()
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

it("answers a survey, and changes the answer; the teacher sees what all of them came to", async () => {
  await page.goto(`${origin}/learn/the-first-crock/5`)
  const survey = page.getByRole("form", { name: "Survey" })
  await survey.getByRole("button", { name: "Send my answers" }).click()
  await survey.getByText("“How did your first crock turn out?” is still to be answered.").waitFor()
  await survey.getByLabel("Crisp and sour").check()
  await survey
    .getByRole("group", { name: /How sure are you/ })
    .getByLabel("4", { exact: true })
    .check()
  await survey.getByLabel(/What would you like to put under salt/).fill("Kohlrabi, please.")
  await survey.getByRole("button", { name: "Send my answers" }).click()
  await survey.getByText("Thank you.").waitFor()
  await checkAccess(page, "a lesson with a survey and a video")
  await fits()
  await page.reload()
  await survey.getByLabel("Soft, but good").check()
  await survey.getByRole("button", { name: "Change my answers" }).click()
  await survey.getByText("Thank you.").waitFor()
  await studio.goto(`${origin}/studio/courses/1/surveys`)
  await studio.getByText("Kohlrabi, please.").waitFor()
  await checkAccess(studio, "surveys")
})

it("is shown a notice that was written for them, and is led on by its button", async () => {
  await studio.goto(`${origin}/studio/courses/notices`)
  await studio.getByText("New notice").click()
  await studio.getByLabel("What it says first").fill("Salt by the sack")
  await studio.getByRole("button", { name: "Make it" }).click()
  await studio.getByRole("heading", { name: "Salt by the sack", level: 1 }).waitFor()
  await studio.getByLabel("Its button leads to").selectOption({ label: "The Koji Tray" })
  await studio.getByLabel("The button says").fill("See the tray")
  await studio.getByLabel("Only those").selectOption({ label: "A course" })
  await studio.getByLabel("On: it is shown").check()
  // The tray is only offered after a purchase: no page sells it by itself.
  await studio.getByText("What its button leads to isn’t live: nobody sees it.").waitFor()
  await page.goto(`${origin}/learn`)
  await page.getByRole("heading", { name: "My courses" }).waitFor()
  expect(await page.getByText("Salt by the sack").count()).toBe(0)
  await studio.getByLabel("Its button leads to").selectOption("offer:1")
  await studio.getByText("All saved").waitFor()
  await checkAccess(studio, "a notice")
  await page.reload()
  await page.getByText("Salt by the sack").waitFor()
  await checkAccess(page, "the shelf with a notice")
  await fits()
  await page.getByRole("link", { name: "See the tray" }).click()
  await page.waitForURL(/a-year\/checkout/)
  await studio.goto(`${origin}/studio/courses/notices`)
  const row = studio.getByRole("row", { name: /Salt by the sack/ })
  expect(await row.getByRole("cell").last().textContent()).toBe("1")
})

it("changes the address, with a yes from both mailboxes", async () => {
  const next = "nadia.elsewhere@letterbox.example"
  await page.goto(`${origin}/learn/account`)
  await page.getByLabel("New e-mail address").fill(next)
  await page.getByRole("button", { name: "Change the address" }).click()
  await page.getByText(`To change to ${next}, press the button in both messages`).waitFor()
  await checkAccess(page, "the account")
  await fits()
  const fromNew = await linkIn(origin, await mailArrived(origin, next, 1), "/confirm-address/")
  const asked = async () => (await mailbox(origin, email)).find((m) => m.subject.startsWith("Another address"))
  await expect.poll(asked).toBeDefined()
  const fromOld = await linkIn(origin, (await asked())!, "/confirm-address/")
  await page.goto(fromNew)
  await page.getByRole("button", { name: "Yes" }).click()
  await page.getByText("Now the other mailbox").waitFor()
  await page.goto(fromOld)
  await page.getByRole("button", { name: "Yes" }).click()
  await page.getByText(`From now on it is ${next}.`).waitFor()
  // Whoever was in is out, on every device: the new mailbox lets in.
  await page.getByRole("link", { name: "Open my account" }).click()
  await page.getByLabel("E-mail address").fill(next)
  await page.getByRole("button", { name: "Go on" }).click()
  await page.getByRole("button", { name: "Mail me the link" }).click()
  await page.goto(await linkIn(origin, await mailArrived(origin, next, 2), "/way-in/"))
  await page.getByRole("button", { name: "Sign me in here" }).click()
  await page.waitForURL(`${origin}/learn/account`)
  await page.getByText(next).first().waitFor()
})

it("asks for the way in also before the scripts have come", async () => {
  const plain = await page.context().browser()!.newContext({ javaScriptEnabled: false })
  const early = await plain.newPage()
  await early.goto(`${origin}/learn/sign-in?to=/learn/account`)
  await early.getByLabel("E-mail address").fill("nobody@letterbox.example")
  await early.getByRole("button", { name: "Go on" }).click()
  await early.getByRole("button", { name: "Mail me the link" }).waitFor()
  expect(early.url()).not.toContain("nobody")
  expect(await early.locator('input[name="to"]').first().getAttribute("value")).toBe("/learn/account")
  await plain.close()
})

it("is seen as they are seen by the school, and a long list is let in and taken back", async () => {
  await studio.goto(`${origin}/studio/courses/2/preview`)
  await studio.getByRole("link", { name: "January: the patience of roots" }).click()
  await studio.getByText("nothing here can be pressed").waitFor()
  expect(await studio.getByRole("button", { name: "See how I did" }).isDisabled()).toBe(true)
  await checkAccess(studio, "a lesson seen as somebody")
  await studio.goto(`${origin}/studio/courses/4/members`)
  const letIn = studio.getByRole("region", { name: "Let people in" })
  const list = Array.from({ length: 2_500 }, (_, i) => `list${i}@letterbox.example`).join("\n")
  await letIn.getByLabel(/from a file of addresses/).setInputFiles({
    name: "list.csv",
    mimeType: "text/csv",
    buffer: Buffer.from(`email\n${list}\nlist1@letterbox.example\n`),
  })
  await letIn.getByLabel("Mail them the way in").uncheck()
  await letIn.getByRole("button", { name: "Let them in" }).click()
  await letIn.getByText("2500 let in, 1 not:").waitFor()
  await letIn.getByText("2500 let in together").waitFor()
  await letIn.getByRole("button", { name: "Take all back" }).click()
  await letIn.getByText("2500 let in together").waitFor({ state: "detached" })
})

it("tastes a lesson as a stranger, and is led on from the rest", async () => {
  const { page: stranger } = await openPage(await browser.newContext(phone))
  await stranger.goto(`${origin}/learn/a-year-in-ferments/10`)
  await stranger.getByRole("heading", { name: "May: radish in a hurry" }).waitFor()
  await stranger.getByText("This lesson is a free preview").waitFor()
  await checkAccess(stranger, "a free taste")
  await stranger.goto(`${origin}/learn/a-year-in-ferments/11`)
  await stranger.getByRole("heading", { name: "Sign in to your courses" }).waitFor()
  expect(new URL(stranger.url()).searchParams.get("to")).toBe("/learn/a-year-in-ferments/11")
  await stranger.goto(`${origin}/learn/certificate/0000-0000-0000-0000`)
  await stranger.getByRole("heading", { name: "No certificate has this number" }).waitFor()
})
