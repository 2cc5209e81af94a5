// The marketer's follow-up: a sequence that branches, written by keys; a broadcast to a segment; people from a file.
import type { Browser, Page } from "playwright-core"
import { afterAll, beforeAll, expect, inject, it } from "vitest"
import { allSaved, checkAccess, desktop, mailbox, openBrowser, openPage, signIn } from "../support/browser"

const origin = inject("origin")
let browser: Browser
let page: Page
let calm: () => void
beforeAll(async () => {
  browser = await openBrowser()
  ;({ page, calm } = await openPage(await browser.newContext(desktop)))
  await signIn(page, origin)
})
afterAll(() => browser.close())

const saved = () => allSaved(page)

it("writes a sequence that asks, by keys, and puts it live", async () => {
  await page.goto(`${origin}/studio/mail/sequences`)
  await page.getByText("New sequence").click()
  await page.getByLabel("Name").fill("Second thoughts")
  await page.getByRole("button", { name: "Make it" }).click()
  await page.getByRole("heading", { level: 1, name: "Second thoughts" }).waitFor()
  await page.getByText("A draft: it begins for nobody.").waitFor()
  const steps = page.getByRole("region", { name: "The steps" })
  const put = async (kind: string) => page.getByRole("menuitem", { name: kind, exact: true }).click()
  await steps.getByRole("button", { name: "Add a step here" }).first().click()
  await put("Wait")
  await steps.getByRole("button", { name: /^Wait a day/ }).focus()
  await page.keyboard.press("n")
  await put("Split by a question")
  // What is asked, on the right; then an e-mail for those.
  const panel = page.getByRole("region", { name: "The step", exact: true })
  await panel.getByLabel("Only those").selectOption({ label: "A tag" })
  await panel.getByLabel("Tag").selectOption({ label: "first lesson" })
  await steps.getByRole("button", { name: /^People who have the tag “first lesson”/ }).waitFor()
  const those = steps.getByRole("region", { name: "Yes", exact: true })
  await those.getByRole("button", { name: "Add a step here" }).first().click()
  await put("Send an e-mail")
  await panel.getByLabel("Subject", { exact: true }).fill("SALT FOR YOU")
  await panel.getByText("The subject is all in capitals.").waitFor()
  await panel.getByLabel("Subject", { exact: true }).fill("Salt, and how much of it")
  await panel.getByLabel("Preview line", { exact: true }).fill("Two in a hundred")
  await panel.getByLabel("Text", { exact: true }).fill("By weight, not by spoon.")
  await saved()
  await panel.getByText("Nothing is amiss.").waitFor()
  await those.getByRole("button", { name: /Send Salt, and how much of it/ }).waitFor()
  await checkAccess(page, "a sequence being written")
  await panel.getByRole("button", { name: "Test to me" }).click()
  await panel.getByText("A test is on its way to").waitFor()
  await expect
    .poll(async () => (await mailbox(origin, "maren@junipercrock.example"))[0]?.subject)
    .toBe("Test: Salt, and how much of it")
  await page.getByRole("button", { name: "Put it live" }).click()
  await page.getByText("Live.", { exact: true }).waitFor()
  // What was taken out comes back.
  await steps.getByRole("button", { name: /^Wait a day/ }).focus()
  await page.keyboard.press("Delete")
  await expect.poll(() => steps.getByRole("button", { name: /^Wait a day/ }).count()).toBe(0)
  await steps.getByRole("button", { name: /^People who have the tag/ }).focus()
  await page.keyboard.press("Control+z")
  await steps.getByRole("button", { name: /^Wait a day/ }).waitFor()
  await saved()
  calm()
})

it("says what begins it, and what that sets off", async () => {
  const beginnings = page.getByRole("region", { name: "Its beginnings" })
  await beginnings.getByLabel("Occasion").selectOption({ label: "is tagged …" })
  await beginnings.getByLabel("Which").selectOption({ label: "heard of the year" })
  await beginnings.getByRole("button", { name: "Add", exact: true }).click()
  await beginnings.getByText(/is tagged “heard of the year”/).waitFor()
  await page.goto(`${origin}/studio/settings/automations`)
  await page.getByText("begins “Second thoughts”").first().waitFor()
  calm()
})

it("sends a broadcast to a segment, and sees how far it is", async () => {
  await page.goto(`${origin}/studio/mail/broadcasts/2`)
  await page.getByRole("heading", { level: 1, name: "December: the quiet jars" }).waitFor()
  const readers = page.getByRole("region", { name: "Who gets it" })
  const before = await readers.getByRole("status").textContent()
  await page.getByRole("region", { name: "To whom" }).getByLabel("Days", { exact: true }).first().fill("1")
  await expect.poll(() => readers.getByRole("status").textContent()).not.toBe(before)
  await page.getByRole("button", { name: "Preview" }).click()
  await page.getByRole("dialog").getByRole("button", { name: "Plain text" }).click()
  await page.getByRole("dialog").getByText("in December the crocks go quiet").waitFor()
  await page.keyboard.press("Escape")
  await saved()
  await page.getByRole("button", { name: "Plan it…" }).click()
  await page.getByRole("dialog").getByRole("button", { name: "Plan it", exact: true }).click()
  await page.getByText(/Planned: it begins/).waitFor()
  await page.getByRole("button", { name: "Pause" }).click()
  await page.getByText("Paused: what was still to go is held.").waitFor()
  await checkAccess(page, "a broadcast that is paused")
  await page.getByRole("button", { name: "Stop for good" }).click()
  await page.getByText("Stopped: what was still to go never goes.").waitFor()
  calm()
})

it("takes people in from a file, and takes them back", async () => {
  await page.goto(`${origin}/studio/people/import`)
  await page.getByLabel("Choose a file").setInputFiles({
    name: "fair.csv",
    mimeType: "text/csv",
    buffer: Buffer.from("E-Mail;Vorname;Passwort\nfair1@post.example;Ada;x\nnobody;Bo;y\nfair2@post.example;Cy;z\n"),
  })
  await page.getByRole("heading", { level: 1, name: "fair.csv" }).waitFor()
  await page.getByText("A column seems to hold passwords.").waitFor()
  await page.getByLabel("Tags for everybody in it (optional)").fill("autumn fair")
  await checkAccess(page, "a file that is looked at")
  await page.getByRole("button", { name: "Take them in" }).click()
  await page.getByText("Done: 3 lines.").waitFor({ timeout: 30_000 })
  await page.getByRole("link", { name: "See which, and why" }).waitFor()
  await page.goto(`${origin}/studio/people?search=fair1`)
  await page.getByRole("link", { name: /Ada/ }).waitFor()
  await page.goBack()
  await page.getByRole("button", { name: "Take it back as a whole" }).click()
  await page.getByText("Taken back").waitFor()
  calm()
})

it("holds everything by the red button, and lets it go on", async () => {
  await page.goto(`${origin}/studio/mail/quiet-hours`)
  await page.getByRole("button", { name: "Hold all sequences and broadcasts" }).click()
  await page.getByText("Everything is held").waitFor()
  await page.goto(`${origin}/studio`)
  await page.getByText(/All sequences and broadcasts are held/).waitFor()
  await page.goto(`${origin}/studio/mail/quiet-hours`)
  await page.getByRole("button", { name: "Let it go on" }).click()
  await page.getByRole("button", { name: "Hold all sequences and broadcasts" }).waitFor()
  calm()
})
