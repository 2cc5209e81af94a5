// Buying, on a phone: sales page, checkout with the card in the processor's frame, further offers, the open door, and what
// the buyer can do with their plan.
import type { Browser, Page } from "playwright-core"
import { afterAll, beforeAll, expect, inject, it } from "vitest"
import { testCards } from "@/core/offer/card"
import { checkAccess, desktop, linkIn, mailArrived, openBrowser, openPage, phone, signIn } from "../support/browser"

const origin = inject("origin")
let browser: Browser
beforeAll(async () => {
  browser = await openBrowser()
})
afterAll(() => browser.close())

const fits = async (page: Page) =>
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360)

async function card(page: Page, which: keyof typeof testCards): Promise<void> {
  const frame = page.frameLocator("#cards")
  await frame.getByLabel("Card number").fill(testCards[which].number)
  await frame.getByLabel("Valid until").fill("12/39")
  await frame.getByLabel("Code on the card").fill("123")
}

async function checkout(page: Page, email: string): Promise<void> {
  await page.goto(`${origin}/a-year?utm_source=garden%20letter`)
  await page.getByRole("link", { name: "Get A Year in Ferments" }).first().click()
  await page.waitForURL(/\/a-year\/checkout/)
  await page.getByLabel("First name").fill("Ines")
  await page.getByLabel("E-mail address").fill(email)
}

it("goes from the sales page past the further offers into the course", async () => {
  const { page, calm } = await openPage(await browser.newContext(phone))
  const email = "ines.buyer@letterbox.example"
  await page.goto(`${origin}/a-year`)
  await fits(page)
  await checkAccess(page, "sales page")
  await checkout(page, email)
  await fits(page)
  await checkAccess(page, "checkout")
  // The sum follows the choice: another way to pay, an order bump, a code.
  await page.getByLabel("The Brine Chart").check()
  await page.getByRole("button", { name: "Pay €299.00" }).waitFor()
  await page.getByText("Coupon code").click()
  await page.getByRole("textbox", { name: "Coupon code" }).fill("nonsense")
  await page.getByRole("button", { name: "Use it" }).click()
  await page.getByText("This code isn't known here").waitFor()
  await page.getByRole("textbox", { name: "Coupon code" }).fill("brine 10")
  await page.getByRole("button", { name: "Use it" }).click()
  await page.getByRole("button", { name: "Pay €270.00" }).waitFor()
  await page.getByText("On your card statement: JUNIPER CROCK").waitFor()

  // A card number that is none is said in the frame, and nothing is sent.
  await page.frameLocator("#cards").getByLabel("Card number").fill("7220440000000016")
  await page.getByRole("button", { name: "Pay €270.00" }).click()
  await page.frameLocator("#cards").getByRole("alert").waitFor()
  // One that is refused leads back with word of it, and what was typed.
  await card(page, "insufficient")
  await page.getByRole("button", { name: "Pay €270.00" }).click()
  await page.getByText("There is too little on this card. Nothing was charged.").waitFor()
  expect(await page.getByLabel("E-mail address").inputValue()).toBe(email)
  await page.getByRole("button", { name: "Pay €270.00" }).waitFor()
  await card(page, "fine")
  await page.getByRole("button", { name: "Pay €270.00" }).click()

  await page.waitForURL(/one-more-thing/)
  await fits(page)
  await checkAccess(page, "further offer")
  await page.getByText("You pay €64.00 today.").waitFor()
  await page.getByRole("button", { name: "No, thank you. Go on without it" }).click()
  await page.waitForURL(/or-this/)
  await page.getByRole("button", { name: "Yes, add it: €29.00" }).click()
  await page.waitForURL(/\/a-year\/welcome/)
  await fits(page)
  await checkAccess(page, "welcome")
  const proof = await page.getByRole("main").textContent()
  for (const text of [
    "A Year in Ferments, The Brine Chart",
    "You paid €270.00 today",
    "Brine Clinic",
    "You paid €29.00 today",
  ])
    expect(proof).toContain(text)
  await page.getByRole("link", { name: "Open it now" }).click()
  await page.getByRole("heading", { name: "A Year in Ferments" }).waitFor()
  await page.goto(`${origin}/learn`)
  await page.getByRole("heading", { name: "Brine Clinic" }).waitFor()
  await page.getByRole("link", { name: "The Brine Chart.txt" }).waitFor()
  await checkAccess(page, "my courses and files")
  await page.getByRole("link", { name: "The Brine Chart.txt" }).click()
  await page.getByRole("heading", { name: "The Brine Chart" }).waitFor()
  await checkAccess(page, "a file of one's own")
  const file = await page.request.get(
    (await page.getByRole("link", { name: /Download/ }).getAttribute("href"))!.replace(/^\//, `${origin}/`),
  )
  expect(await file.text()).toContain("Salt for 1 litre")
  // Going back charges nothing and offers nothing twice.
  await page.goto(`${origin}/a-year/one-more-thing`)
  await page.waitForURL(/\/a-year\/(or-this|welcome)/)
  calm()

  const receipts = [await mailArrived(origin, email, 2)]
  expect(receipts[0]!.subject).toMatch(/^Receipt \d+ from Juniper Crock$/)
  const fresh = await browser.newContext(phone)
  const other = await openPage(fresh)
  await other.page.goto(await linkIn(origin, receipts[0]!, "/way-in/"))
  await other.page.getByRole("button", { name: "Sign me in here" }).click()
  await other.page.getByRole("heading", { name: "A Year in Ferments" }).waitFor()
})

it("is paid by the bank's word; two presses and a reload charge once", async () => {
  const { page } = await openPage(await browser.newContext(phone))
  await checkout(page, "confirm.buyer@letterbox.example")
  await page.getByLabel("In four parts").check()
  await page.getByRole("button", { name: "Pay €79.00" }).waitFor()
  await card(page, "confirm")
  await page.getByRole("button", { name: "Pay €79.00" }).dblclick()
  await page.getByRole("heading", { name: "Your bank asks" }).waitFor()
  await page.getByRole("button", { name: "Yes, pay it" }).click()
  await page.waitForURL(/one-more-thing/)
  await page.reload()
  await page.getByRole("button", { name: "Yes, add it: €64.00" }).waitFor()
  // A page of the order, or a further offer, opened on another device shows nothing of it.
  const stranger = await openPage(await browser.newContext(phone))
  await stranger.page.goto(`${origin}/a-year/one-more-thing`)
  await stranger.page.waitForURL(`${origin}/a-year`)
})

it("lets a buyer see their plan, change the card, and end it in two clicks", async () => {
  const context = await browser.newContext(phone)
  const { page, calm } = await openPage(context)
  const email = "plan.buyer@letterbox.example"
  await checkout(page, email)
  await card(page, "fine")
  await page.getByRole("button", { name: "Pay €290.00" }).click()
  await page.waitForURL(/one-more-thing/)
  await page.getByRole("button", { name: "Yes, add it: €64.00" }).click()
  await page.waitForURL(/the-cold-shelf/)
  await page.getByText("You pay nothing today, then €19.00").waitFor()
  await page.getByRole("button", { name: "Yes, add it: nothing today" }).click()
  await page.waitForURL(/welcome/)
  // The device that ordered opens what was bought; the plan wants the mailbox.
  await page.goto(`${origin}/learn/plans`)
  await page.getByText("On this device you can open what you bought here.").waitFor()
  const receipt = await mailArrived(origin, email, 3)
  await page.goto(await linkIn(origin, receipt, "/way-in/"))
  await page.getByRole("button", { name: "Sign me in here" }).click()
  await page.getByRole("link", { name: "My plans and cards" }).click()
  await page.getByRole("heading", { name: "The Cold Shelf" }).waitFor()
  await checkAccess(page, "my plans")
  await page.goto(`${origin}/learn/orders`)
  await fits(page)
  await checkAccess(page, "my orders")
  await page
    .getByRole("link", { name: /^Receipt \d+$/ })
    .last()
    .click()
  await page.getByRole("heading", { name: /^Receipt \d+$/ }).waitFor()
  await page.getByText(/^You paid €290.00 on /).waitFor()
  await fits(page)
  await page.goto(`${origin}/learn/plans`)
  await fits(page)
  await page.getByRole("button", { name: "Change the card…" }).click()
  const frame = page.frameLocator('iframe[title="Card"]')
  await frame.getByLabel("Card number").fill(testCards.later.number)
  await frame.getByLabel("Valid until").fill("11/38")
  await frame.getByLabel("Code on the card").fill("123")
  await page.getByRole("button", { name: "Use this card" }).click()
  await page.getByText("good until 11/38").waitFor()
  await page.getByRole("button", { name: "End it…" }).click()
  await page.getByText("Nothing more is charged. What you have of it stays open until").waitFor()
  await page.getByRole("button", { name: "End it now" }).click()
  await page.getByText("Ended: ended by the buyer. Nothing more is charged.").waitFor()
  calm()

  // The marketer finds the whole story, and gives a part of it back.
  const studio = await openPage(await browser.newContext(desktop))
  await signIn(studio.page, origin)
  await studio.page.goto(`${origin}/studio/ledger?search=plan.buyer`)
  await studio.page.getByRole("link", { name: /^\d+$/ }).last().click()
  await studio.page.getByRole("heading", { name: /^Order \d+: €354.00$/ }).waitFor()
  await studio.page.getByText("plan ended: The Cold Shelf: ended by the buyer").waitFor()
  await studio.page.getByRole("button", { name: "Refund…" }).click()
  await checkAccess(studio.page, "give money back")
  await studio.page.getByLabel("EUR, of 290.00").fill("290.01")
  await studio.page.getByText("At most €290.00.").waitFor()
  await studio.page.getByLabel("EUR, of 290.00").fill("40")
  await studio.page.getByLabel("stays open").check()
  await studio.page.getByRole("button", { name: "Refund €40.00" }).click()
  await studio.page.getByRole("heading", { name: /^Order \d+: €314.00$/ }).waitFor()
  await studio.page.getByText("paid, partly refunded").waitFor()
  expect((await mailArrived(origin, email, 4)).subject).toBe("Juniper Crock refunds €40.00")
  studio.calm()
})

it("sends somebody without the course from its lessons to its sales page", async () => {
  const { page } = await openPage(await browser.newContext(phone))
  await page.goto(`${origin}/learn/a-year-in-ferments`)
  await page.getByRole("link", { name: "See what “A Year in Ferments” is about" }).click()
  await page.waitForURL(`${origin}/a-year`)
  // Led there from a lesson, they read why; what isn't there, or isn't a number, says nothing.
  await page.goto(`${origin}/a-year?lesson=11`)
  await page.getByText("is a lesson of “A Year in Ferments”, and isn’t open to you yet.").waitFor()
  for (const asked of ["99999", "1%20OR%201=1", "<b>"]) {
    await page.goto(`${origin}/a-year?lesson=${asked}`)
    await page.getByRole("heading", { level: 1 }).waitFor()
    expect(await page.getByText("isn’t open to you").count()).toBe(0)
  }
})
