// Numbers, from a table to a cost that is typed, read from a file and judged, and to what to change first.
import type { Browser, Page } from "playwright-core"
import { afterAll, beforeAll, expect, inject, it } from "vitest"
import { desktop, openBrowser, openPage, signIn } from "../support/browser"

const origin = inject("origin")
let browser: Browser
let page: Page
let calm: () => void
beforeAll(async () => {
  browser = await openBrowser()
  const opened = await openPage(await browser.newContext(desktop))
  page = opened.page
  calm = opened.calm
  await signIn(page, origin)
})
afterAll(() => browser.close())

it("a source's cost is typed and stands beside what it brought, with whether it paid; what is to be left changes the click", async () => {
  await page.getByRole("link", { name: "Numbers", exact: true }).click()
  await page.getByRole("heading", { name: "Numbers" }).waitFor()
  const letter = page.getByRole("row", { name: /garden letter/ })
  await letter.getByRole("link", { name: "Type it" }).click()
  const form = page.getByRole("form", { name: "Type a cost" })
  expect(await form.getByLabel("Source").inputValue()).toBe("garden letter")
  await form.getByLabel(/Cost in all/).fill("twelve")
  await form.getByRole("button", { name: "Keep it" }).click()
  await form.getByText("Type an amount").waitFor()
  await form.getByLabel(/Cost in all/).fill("28.00")
  await form.getByRole("button", { name: "Keep it" }).click()
  await page
    .getByRole("row", { name: /garden letter.*€1\.00/ })
    .first()
    .waitFor()
  await page.getByLabel("File of costs").setInputFiles({
    name: "costs.csv",
    mimeType: "text/csv",
    buffer: Buffer.from("date,source,amount\n2026-13-01,x,1\n"),
  })
  await page.getByText("Line 2: the date must be written as 2026-11-30.").waitFor()
  await page.goto(`${origin}/studio/numbers`)
  await letter.getByText("€28.00").waitFor()
  await letter.getByText(/paid|told/).waitFor()
  const click = page.getByRole("region", { name: "What a visitor is worth" })
  const before = await click.locator("p").first().textContent()
  await click.getByLabel("To be left, in percent").fill("60")
  await click.getByRole("button", { name: "Reckon" }).click()
  await expect.poll(() => click.locator("p").first().textContent()).not.toBe(before)
  const csv = await page.request.get(`${origin}/studio/numbers/brought.csv`)
  expect(await csv.text()).toMatch(/^source,first_day,last_day,visited.*\r\n(.*\r\n)*garden letter,/)
  expect((await fetch(`${origin}/studio/numbers/brought.csv`, { redirect: "manual" })).status).not.toBe(200)
})

it("what to change first is said in a sentence, with the width of what comes, walked in a worker", async () => {
  await page.goto(`${origin}/studio/numbers/change?funnel=2`)
  await page.getByText(/^If one more of a hundred at “.+” had .+ more than any other/).waitFor()
  await page.getByText(/four times out of five between .* made-up people/).waitFor()
  await page.goto(`${origin}/studio/numbers/change?funnel=2&from=2019-01-01&to=2019-12-31`)
  await page.getByText("there is nothing to weigh").waitFor()
})

it("a forecast follows what is typed, says what is wrong, and is kept", async () => {
  await page.goto(`${origin}/studio/numbers/forecast?funnel=2`)
  const comes = page.getByRole("region", { name: "What comes of it" })
  const sum = async () => Number((await comes.locator("p > span").first().textContent())!.replace(/[^0-9]/g, ""))
  await comes.getByText(/four times out of five/).waitFor()
  const before = await sum()
  const visitors = page.getByLabel("Visitors a day")
  await visitors.fill(String(2 * Number(await visitors.inputValue())))
  await expect.poll(async () => Math.abs((await sum()) / before - 2)).toBeLessThan(0.01)
  const likely = page.getByLabel("Checkout, bought: most likely, percent")
  await likely.fill("140")
  await comes.getByText("between 0 and 100").waitFor()
  await likely.fill("60")
  await page.getByLabel("Cost of a click").fill("40.00")
  await comes.getByText("is the chance to lose money").waitFor()
  await page.getByRole("button", { name: "Keep this forecast" }).click()
  await page.waitForTimeout(500)
  await page.reload()
  await expect.poll(() => likely.inputValue()).toBe("60")
  await likely.fill("")
  await page.getByRole("button", { name: "Keep this forecast" }).click()
})

it("a further offer that is left out is weighed, adopted into the draft, and taken back there", async () => {
  await page.goto(`${origin}/studio/numbers/forecast?funnel=2`)
  const what = page.getByRole("region", { name: "What if" })
  const offer = what.getByRole("row", { name: /Brine Clinic/ })
  await offer.getByText("any rate").waitFor()
  await offer.getByRole("checkbox").check()
  await what.getByText(/What you try brings .* less than the funnel as it is/).waitFor()
  await what.getByRole("button", { name: "Adopt it in the funnel’s draft" }).click()
  await what.getByText("It stands in the draft of the funnel").waitFor()
  await offer.waitFor({ state: "detached" })
  await page.goto(`${origin}/studio/funnels/2`)
  await page.getByRole("button", { name: /^Undo: adopted what was tried/ }).click()
  await page
    .getByRole("button", { name: /Brine Clinic/ })
    .first()
    .waitFor()
  await page.getByRole("link", { name: "Forecast over it" }).click()
  await page.getByText(/^Outlined: how many were forecast/).waitFor()
})

it("what was forecast lies beside what came, and a period is told, printed and mailed", async () => {
  await page.goto(`${origin}/studio/numbers/days?funnel=2`)
  await page.getByText(/lay within what was forecast of them/).waitFor()
  await page.getByText("As a table").click()
  await page
    .getByRole("cell", { name: "Outside" })
    .or(page.getByRole("columnheader", { name: "Between" }))
    .first()
    .waitFor()
  await page.goto(`${origin}/studio/numbers/report`)
  await page
    .getByRole("article")
    .getByText(/people came, .* joined, .* bought for/)
    .waitFor()
  const pdf = await page.request.get(`${origin}/studio/numbers/report/numbers.pdf?funnel=2`)
  expect((await pdf.body()).subarray(0, 5).toString()).toBe("%PDF-")
  expect((await fetch(`${origin}/studio/numbers/report/numbers.pdf`, { redirect: "manual" })).status).not.toBe(200)
  for (const [path, head] of [
    ["groups/groups.csv", "week_from,joined"],
    ["days/days.csv?funnel=2", "day,currency,forecast"],
    ["change/change.csv?funnel=2", "step,outcome,came"],
  ]) {
    const file = await page.request.get(`${origin}/studio/numbers/${path}`)
    expect((await file.text()).split("\r\n").length).toBeGreaterThan(3)
    expect(await file.text()).toContain(head)
    expect((await fetch(`${origin}/studio/numbers/${path}`, { redirect: "manual" })).status).not.toBe(200)
  }
  await page.getByLabel("Mail me the week before, each Monday").check()
  await page.waitForTimeout(500)
  await page.goto(`${origin}/studio/settings/account`)
  await expect.poll(() => page.getByLabel("What the week before brought, each Monday").isChecked()).toBe(true)
  for (const by of ["offer", "sequence", "webinar", "coupon", "device"]) {
    await page.goto(`${origin}/studio/numbers?by=${by}`)
    await page.getByRole("columnheader", { name: "Bought" }).waitFor()
  }
  calm()
})
