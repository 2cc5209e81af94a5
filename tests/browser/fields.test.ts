// What the school wants to know: made as a field, asked on the opt-in page, answered by a visitor on a phone, seen in their story,
// and said in an e-mail with a picture.
import type { Browser, Page } from "playwright-core"
import { afterAll, beforeAll, expect, inject, it } from "vitest"
import {
  allSaved,
  checkAccess,
  desktop,
  linkIn,
  mailArrived,
  openBrowser,
  openPage,
  phone,
  signIn,
} from "../support/browser"

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

it("is made with its choices, and asked by the form of a page", async () => {
  await page.goto(`${origin}/studio/people/fields`)
  await page.getByLabel("New field").fill("What do you pickle?")
  await page.getByLabel("Answered with").selectOption("choice")
  await page.getByRole("button", { name: "Make it" }).click()
  const field = page.getByRole("region", { name: "The field What do you pickle?" })
  await field.getByLabel("Choice 1").fill("Cucumbers")
  await field.getByLabel("Choice 2").fill("Plums")
  await field.getByRole("button", { name: "Save the choices" }).click()
  await field.getByRole("region", { name: "What “Plums” sets off" }).waitFor()
  await checkAccess(page, "a field")
  await page.goto(`${origin}/studio/funnels/1/steps/1`)
  await page.getByRole("navigation", { name: "On this page" }).getByRole("button", { name: /form/i }).click()
  await page.getByLabel("Ask for a field").selectOption({ label: "What do you pickle?" })
  await allSaved(page)
  await page.goto(`${origin}/studio/funnels/1`)
  await page.getByRole("button", { name: "Publish changes" }).click()
  await page.getByText("Published as release").waitFor()
  calm()
})

it("is answered by a visitor, and stands in their story", async () => {
  const visitor = await openPage(await browser.newContext(phone))
  const email = "plum@letterbox.example"
  // A web process learns of a release a moment after it was published.
  await expect
    .poll(
      async () => {
        await visitor.page.goto(`${origin}/first-crock`)
        return visitor.page.getByLabel("What do you pickle?").count()
      },
      { timeout: 20_000 },
    )
    .toBe(1)
  expect(await visitor.page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360)
  await checkAccess(visitor.page, "an opt-in page that asks")
  await visitor.page.getByLabel("First name").fill("Una")
  await visitor.page.getByLabel("What do you pickle?").selectOption("Plums")
  await visitor.page.getByLabel("E-mail address").fill("una@nowhere")
  await visitor.page.getByRole("button", { name: "Send me the first lesson" }).click()
  await visitor.page.getByRole("alert").waitFor()
  // What was chosen stays chosen.
  expect(await visitor.page.getByLabel("What do you pickle?").locator("option:checked").textContent()).toBe("Plums")
  await visitor.page.getByLabel("E-mail address").fill(email)
  await visitor.page.getByRole("button", { name: "Send me the first lesson" }).click()
  await visitor.page.waitForURL(`${origin}/first-crock/check-your-inbox`)
  await visitor.page.goto(await linkIn(origin, await mailArrived(origin, email), "/confirm/"))
  await visitor.page.getByRole("button", { name: "Yes, that's me. Let me in" }).click()
  await visitor.page.waitForURL(`${origin}/first-crock/welcome`)
  visitor.calm()

  await page.goto(`${origin}/studio/people?search=plum@`)
  await page.getByRole("link", { name: "Una" }).click()
  await page.getByText("chose “Plums” for “What do you pickle?”").waitFor()
  const fields = page.getByRole("region", { name: "Fields" })
  await fields.getByRole("button", { name: "Change: What do you pickle?" }).click()
  await fields.getByLabel("What do you pickle?").selectOption("Cucumbers")
  await fields.getByRole("button", { name: "Save" }).click()
  await fields.getByText("Cucumbers").waitFor()
  await checkAccess(page, "a person with fields")
  calm()
})

it("is said in an e-mail, with other words where it isn’t known, beside a picture", async () => {
  await page.goto(`${origin}/studio/mail/broadcasts`)
  await page.getByText("New broadcast").click()
  await page.getByLabel("Name").fill("Pickles")
  await page.getByRole("button", { name: "Make it" }).click()
  await page.getByRole("heading", { level: 1, name: "Pickles" }).waitFor()
  await page.getByLabel("Subject", { exact: true }).fill("Salt")
  await page.getByLabel("Insert a personal word into: Subject").selectOption({ label: "What do you pickle?" })
  expect(await page.getByLabel("Subject", { exact: true }).inputValue()).toBe("Salt ‹What do you pickle?, else …›")
  const text = page.getByRole("textbox", { name: "Text" })
  await text.fill("You pickle ")
  await page.getByLabel("Insert a personal word", { exact: true }).selectOption({ label: "What do you pickle?" })
  await text.getByText("What do you pickle?").click()
  await page.getByLabel("Where it isn’t known:").fill("what grows")
  await text.press("Control+End")
  await page.getByRole("button", { name: "Picture", exact: true }).click()
  await page.getByLabel("Picture to put in").selectOption({ index: 1 })
  await text.locator("img").click()
  await page.getByLabel("What it shows, for those who can’t see it:").fill("A row of jars")
  await allSaved(page)
  await checkAccess(page, "a letter with a picture")
  await page.getByRole("button", { name: "Preview" }).click()
  const dialog = page.getByRole("dialog")
  await dialog.getByLabel("As this person gets it").fill("plum@letterbox.example")
  await dialog.getByRole("button", { name: "Show" }).click()
  await dialog.getByRole("heading", { name: "Salt Cucumbers" }).waitFor()
  await dialog.getByRole("button", { name: "Plain text" }).click()
  await dialog.getByText(/You pickle Cucumbers/).waitFor()
  await dialog.getByText("[A row of jars]").waitFor()
  await dialog.getByLabel("As this person gets it").fill("")
  await dialog.getByRole("button", { name: "Show" }).click()
  await dialog.getByText(/You pickle what grows/).waitFor()
  await page.keyboard.press("Escape")
  await page.getByRole("button", { name: "Write it by hand" }).click()
  await expect.poll(() => page.getByLabel("Plain text").inputValue()).toContain("‹What do you pickle?")
  await allSaved(page)
  calm()
})
