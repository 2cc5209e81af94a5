// The marketer sells: an offer with its sentence, a coupon, a funnel that leads through further offers, wired by keys and
// mouse, checked, published; and the numbers in people, in money and of one way.
import type { Browser, Page } from "playwright-core"
import { afterAll, beforeAll, expect, inject, it } from "vitest"
import { allSaved, checkAccess, desktop, openBrowser, openPage, signIn } from "../support/browser"

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

it("makes an offer, and reads what buyers will read", async () => {
  await page.goto(`${origin}/studio/offers?new`)
  await page.getByLabel("Name", { exact: true }).fill("Crocks by twos")
  await page.getByLabel("Gives").selectOption("The Koji Tray")
  await page.getByLabel("Price, paid once").fill("1,234")
  await page.getByRole("button", { name: "Make it" }).click()
  await page.getByText("An amount in EUR, or nothing if it is free.").waitFor()
  await page.getByLabel("Price, paid once").fill("120")
  await page.getByRole("button", { name: "Make it" }).click()
  await page.getByRole("heading", { name: "Crocks by twos" }).waitFor()
  await page.getByText("You pay €120.00 today.").waitFor()

  await page.getByRole("button", { name: "Add another way to pay" }).click()
  const second = page.getByRole("group", { name: "Way 2 of 2" })
  await second.getByLabel("Each time, EUR").fill("45,555")
  await second.getByText("An amount in EUR, like 290.00.").waitFor()
  await page.getByText("Not saved yet: see below.").waitFor()
  await second.getByLabel("Each time, EUR").fill("45.50")
  await second.getByLabel("Number of payments").fill("3")
  await second
    .getByText(/^You pay €45.50 today, then €45.50 on the .* 2 times, the last on .* That is €136.50 in all/)
    .waitFor()
  await saved()
  await second.getByText("The charges, for whoever buys today").click()
  expect(await second.getByRole("listitem").count()).toBe(3)
  await second.getByLabel("Payment", { exact: true }).selectOption("by subscription")
  await second.getByLabel("Trial").selectOption("days")
  await second.getByText(/^You pay nothing today, then €45.50 on the .* until you cancel/).waitFor()
  await saved()

  await page.getByLabel("Quantity available").fill("ten")
  await page.getByText("Not saved yet: see below.").waitFor()
  await page.getByLabel("Quantity available").fill("10")
  await page.getByText("10 left; 0 sold or being paid for.").waitFor()
  await saved()
  await page.reload()
  expect(await page.getByRole("group", { name: "Way 2 of 2" }).getByLabel("Each time, EUR").inputValue()).toBe("45.50")
  await checkAccess(page, "an offer")
  calm()
})

it("makes a coupon that says where it is given out", async () => {
  await page.goto(`${origin}/studio/offers/coupons`)
  await page.getByText("New coupon").click()
  await page.getByLabel("Code").fill("Nordic-5")
  await page.getByLabel("Percentage").fill("12.5")
  await page.getByRole("button", { name: "Make the coupon" }).click()
  await page.getByText("Say where it is given out").waitFor()
  await page.getByLabel("Where it is given out").fill("Nordic baking fair")
  await page.getByRole("button", { name: "Make the coupon" }).click()
  const row = page.getByRole("row", { name: /Nordic baking fair/ })
  await row.getByText("12.5 %").waitFor()
  await row.getByRole("button", { name: "End now: Nordic-5" }).click()
  await row.getByText(/^Ended /).waitFor()
})

it("makes a funnel that sells, wires one more offer in and takes it back, and publishes it", async () => {
  await page.goto(`${origin}/studio/funnels/new`)
  await page.getByLabel("a paid course").check()
  await page.getByLabel("What is sold").selectOption("Crocks by twos")
  await page.getByLabel("Upsell, right after it").selectOption("The Cold Shelf")
  await page.getByLabel("Downsell, for whoever declines it").selectOption("Brine Clinic")
  await page.getByRole("button", { name: "Make the funnel" }).click()
  await page.getByRole("heading", { name: "Crocks by twos: sale" }).waitFor()
  await page.getByText("No visitors yet").waitFor()

  // By keys: to the further offer, and one more thing after it.
  await page.locator('[data-node][aria-pressed="true"]').focus()
  await page.keyboard.press("ArrowRight")
  await page.keyboard.press("ArrowRight")
  await page.getByRole("heading", { name: /The Cold Shelf · upsell/ }).waitFor()
  await page.keyboard.press("n")
  const dialog = page.getByRole("dialog", { name: "Insert a step after “The Cold Shelf”" })
  await dialog.getByLabel("Offer", { exact: true }).selectOption("The Brine Chart")
  await checkAccess(page, "put a step in")
  await dialog.getByRole("button", { name: "Insert", exact: true }).click()
  await page.getByRole("heading", { name: /The Brine Chart · upsell/ }).waitFor()
  await page.getByText("Undo: inserted “The Brine Chart” after “The Cold Shelf”").waitFor()
  await page.getByRole("button", { name: /^The Brine Chart/ }).focus()
  await page.keyboard.press("Control+z")
  await page.getByText("Undone: inserted “The Brine Chart”").waitFor()
  await page.getByRole("button", { name: /^The Brine Chart/ }).waitFor({ state: "detached" })

  // What it sells is changed on the bench; preflight says what is wrong with it.
  await page.getByRole("button", { name: /^The Cold Shelf/ }).click()
  await page.getByRole("button", { name: "Change", exact: true }).click()
  await page.getByLabel("Offer", { exact: true }).selectOption("Crocks by twos")
  await page.getByRole("button", { name: "Sell this" }).click()
  await page.getByRole("button", { name: /^Preflight: \d to fix/ }).click()
  await page.getByText("“Crocks by twos” is offered twice on one way").waitFor()
  await page.keyboard.press("Escape")
  await page.keyboard.press("Control+z")
  await page.getByText("Undone: changed what “The Cold Shelf” sells").waitFor()
  await page.getByRole("button", { name: "Preflight: clear" }).waitFor()

  // Moved, copied, removed.
  await page.getByRole("button", { name: /^Brine Clinic/ }).click()
  await page.keyboard.press("m")
  await page.getByRole("dialog", { name: /“Brine Clinic”: move, copy, remove/ }).waitFor()
  await checkAccess(page, "move a step")
  await page.getByRole("button", { name: "Remove it" }).click()
  await page.getByRole("button", { name: /^Brine Clinic/ }).waitFor({ state: "detached" })
  await page.getByRole("button", { name: /Undo: removed “Brine Clinic”/ }).click()
  await page.getByRole("button", { name: /^Brine Clinic/ }).waitFor()

  await page.getByRole("button", { name: "Publish", exact: true }).click()
  await page.getByText("Published as release 1").waitFor()
  calm()
})

it("shows the river in money, and of one way alone", async () => {
  await page.goto(`${origin}/studio/funnels/2?from=beginning`)
  await page.getByRole("link", { name: "in money", exact: false }).click()
  await page.waitForURL(/in=money/)
  await page.getByRole("button", { name: /^Checkout €/ }).waitFor()
  await page.keyboard.press("$")
  await page.waitForURL((url) => !url.href.includes("in=money"))
  await page.getByRole("button", { name: /^The Koji Tray \d/ }).click()
  const row = page.getByRole("row", { name: /declines/ })
  const declined = Number((await row.getByRole("cell").nth(3).textContent())!.replace(/\D/g, ""))
  await row.getByRole("button", { name: "Show only these" }).click()
  await page.waitForURL(/ways=\d+\.declined/)
  await page.getByText("Only those who declined “The Koji Tray”").waitFor()
  await checkAccess(page, "one way alone")
  const through = await page
    .getByRole("button", { name: /^The Koji Tray \d/ })
    .locator("strong")
    .textContent()
  expect(Number(through!.replace(/\D/g, ""))).toBe(declined)
  await page.getByRole("button", { name: /^declined “The Koji Tray”/ }).click()
  await page.waitForURL((url) => !url.href.includes("ways="))
  calm()
})

it("gives the orders as a file", async () => {
  const answer = await page.request.get(`${origin}/studio/ledger/orders.csv?state=paid`)
  expect(answer.headers()["content-type"]).toContain("text/csv")
  const rows = (await answer.text()).trim().split("\r\n")
  expect(rows[0]).toContain("number,follows,placed")
  // Nobody need have been refunded on every day of the year; somebody has always paid.
  expect(rows.length).toBeGreaterThan(1)
  expect(rows.slice(1).filter((r) => !/,"?paid\b/.test(r))).toEqual([])
  const away = await fetch(`${origin}/studio/ledger/orders.csv`, { redirect: "manual" })
  expect([303, 307]).toContain(away.status)
})

it("says at the statement text what can't stand there", async () => {
  await page.goto(`${origin}/studio/settings`)
  const text = page.getByLabel("What a card statement shows")
  await text.fill("Gärtopf")
  await page.getByText("“ä” can't stand on a card statement").waitFor()
  await text.fill("JUNIPER CROCK OF THE NORTH")
  await page.getByText("At most 22 characters.").waitFor()
  await text.fill("JUNIPER CROCK")
  await page.getByText("13 of 22 characters.").waitFor()
  await saved()
})
