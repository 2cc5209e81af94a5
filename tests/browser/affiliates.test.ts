// Affiliates from the studio to the portal and back: invited, joined on a phone, a link that sells, why it counted, paid.
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
const email = "wilma.crane@letterbox.example"
let browser: Browser
let page: Page
let calm: () => void
let wilma: Page
let wilmaCalm: () => void
beforeAll(async () => {
  browser = await openBrowser()
  ;({ page, calm } = await openPage(await browser.newContext(desktop)))
  ;({ page: wilma, calm: wilmaCalm } = await openPage(await browser.newContext(phone)))
  await signIn(page, origin)
})
afterAll(() => browser.close())

it("a programme is set up for an offer, with conditions and words to copy", async () => {
  await page.goto(`${origin}/studio/affiliates/programmes`)
  await page.getByRole("link", { name: "Set one up: The Koji Tray" }).click()
  await page.getByRole("heading", { name: "Recommending “The Koji Tray”" }).waitFor()
  await page.getByLabel("Percentage", { exact: true }).fill("25")
  await page.getByLabel("The programme is on").check()
  await allSaved(page)
  await page.reload()
  await page.getByText(/^25 % of what was paid/).waitFor()
  await page.getByText("There is nothing to copy yet").waitFor()
  await page.getByLabel("What affiliates agree to").fill("Say that you are paid for it.")
  await page.getByRole("button", { name: "Put these conditions in force" }).click()
  await page.getByText(/^Version 1, since/).waitFor()
  await page.getByRole("button", { name: "Add words" }).click()
  const dialog = page.getByRole("dialog")
  await dialog.getByLabel("Title").fill("One line")
  await dialog.getByLabel("Words").fill("Koji at last: ‹my link›")
  await dialog.getByRole("button", { name: "Save" }).click()
  await page.getByText("One line").waitFor()
  await checkAccess(page, "a programme")
})

it("somebody is invited, and joins from a phone once they have agreed", async () => {
  await page.goto(`${origin}/studio/affiliates`)
  await page.getByRole("button", { name: "Add an affiliate" }).click()
  const dialog = page.getByRole("dialog")
  await dialog.getByLabel("E-mail address").fill(email)
  await dialog.getByLabel("Name", { exact: true }).fill("Wilma Crane")
  await dialog.getByLabel("Programme").selectOption({ label: "The Koji Tray" })
  await dialog.getByRole("button", { name: "Invite" }).click()
  await page.getByRole("link", { name: "Wilma Crane" }).waitFor()
  await wilma.goto(await linkIn(origin, await mailArrived(origin, email), "/way-in/"))
  await wilma.getByRole("button").click()
  await wilma.waitForURL(/\/affiliate\/programmes/)
  const koji = wilma.getByRole("region", { name: "The Koji Tray" })
  await koji.getByText("Say that you are paid for it.").waitFor()
  await checkAccess(wilma, "programmes, before joining")
  await koji.getByLabel("I have read the conditions and agree to them").check()
  await koji.getByRole("button", { name: "Join: The Koji Tray" }).click()
  await wilma.getByRole("heading", { name: "Hello Wilma" }).waitFor()
  await checkAccess(wilma, "the portal")
})

it("takes a link with a name, its QR code, words with the link in them, and an account that the mailbox confirms", async () => {
  await wilma.getByRole("link", { name: "Links" }).click()
  await wilma.getByRole("heading", { name: "Your links" }).waitFor()
  await wilma.getByLabel("It leads to").selectOption({ label: "A Year in Ferments (A Year in Ferments: sale)" })
  await wilma.getByLabel("A name for the place").fill("Market stall")
  await wilma.getByRole("button", { name: "Make the link" }).click()
  await wilma.getByText(`${origin}/a-year?via=wilma-crane.market-stall`).waitFor()
  await wilma.getByRole("button", { name: `QR code of ${origin}/by/wilma-crane/market-stall` }).click()
  const image = wilma.getByRole("img", { name: /QR code of/ })
  await image.waitFor()
  expect(await image.evaluate((i: HTMLImageElement) => i.decode().then(() => i.naturalWidth))).toBeGreaterThan(20)
  await wilma.getByRole("button", { name: "Close" }).click()
  await checkAccess(wilma, "links")
  await wilma.getByRole("link", { name: "Materials" }).click()
  await wilma.getByText(/Koji at last: http/).waitFor()
  await wilma.getByRole("link", { name: "Account" }).click()
  await wilma.getByLabel("Account holder").fill("Wilma Crane")
  await wilma.getByLabel("Account number (IBAN)").fill("GB29 NWBK 6016 1331 9268 20")
  await wilma.getByRole("button", { name: "Send me the e-mail that confirms it" }).click()
  await wilma.getByText("its check digits don't fit").waitFor()
  await wilma.getByLabel("Account number (IBAN)").fill("GB29 NWBK 6016 1331 9268 19")
  await wilma.getByRole("button", { name: "Send me the e-mail that confirms it" }).click()
  await wilma.getByText("waits for the button in the e-mail").waitFor()
  await checkAccess(wilma, "account")
  await wilma.goto(await linkIn(origin, await mailArrived(origin, email, 2), "/bank/"))
  await wilma.getByRole("button", { name: "Yes, pay me there" }).click()
  await wilma.getByText("That is where you are paid").waitFor()
  await wilma.goto(`${origin}/affiliate/account`)
  await wilma.getByText("To Wilma Crane, GB29 … 6819.").waitFor()
})

it("shows her nothing of anybody else's, takes no file that isn't one, and shows strangers nothing at all", async () => {
  const hers = wilma.request
  for (const n of ["1", "2", "999", "0", "-1", "1e3", "abc"])
    expect([n, (await hers.get(`${origin}/affiliate/paid/${n}`)).status()]).toEqual([n, 404])
  const qr = (of: string) => hers.get(`${origin}/affiliate/qr?of=${encodeURIComponent(of)}`)
  expect((await qr(`${origin}/a-year?via=wilma-crane`)).headers()["content-type"]).toBe("image/svg+xml")
  for (const of of [
    "https://evil.example/",
    `${origin}.evil.example/`,
    "javascript:alert(1)",
    origin,
    `${origin}/${"a".repeat(500)}`,
  ])
    expect([of.slice(0, 30), (await qr(of)).status()]).toEqual([of.slice(0, 30), 404])
  const koji = await programmeOfHers()
  const hand = (programme: number | string, body: string, headers: Record<string, string> = {}) =>
    hers.post(`${origin}/affiliate/bonus?programme=${programme}&name=a.pdf`, { data: Buffer.from(body), headers })
  expect((await hand(1, "%PDF-1.4\n")).status()).toBe(422)
  expect((await hand(koji, "<svg onload=alert(1)>")).status()).toBe(422)
  expect((await hand(koji, "%PDF-1.4\n", { origin: "https://evil.example" })).status()).toBe(403)
  expect((await hand(koji, "%PDF-1.4\n")).status()).toBe(200)
  // The studio is told, and looks at it before anybody gets it.
  await page.goto(`${origin}/studio`)
  await page
    .getByText(/Wilma Crane/)
    .first()
    .waitFor()

  const stranger = (path: string, init: RequestInit = {}) => fetch(origin + path, { redirect: "manual", ...init })
  for (const path of ["", "/links", "/words", "/paid", "/paid/1", "/account", "/programmes"]) {
    const res = await stranger(`/affiliate${path}`)
    expect([path, res.status, res.headers.get("location")]).toEqual([path, 307, "/affiliate/sign-in"])
    expect(await res.text()).not.toContain("Wilma")
  }
  expect((await stranger("/affiliate/bonus?programme=1", { method: "POST", body: "%PDF-1.4\n" })).status).toBe(401)
  // Who is signed in to the portal is nobody in the studio and in the learning area.
  for (const path of [
    "/studio/affiliates",
    "/studio/affiliates/payouts/1/bank.xml",
    "/studio/affiliates/payouts/1/payout.csv",
    "/studio/affiliates/statements/1",
    "/studio/affiliates/report/report.csv",
  ]) {
    const res = await hers.get(origin + path, { maxRedirects: 0 })
    expect([path, res.status(), res.headers().location]).toEqual([path, 307, "/studio/sign-in"])
  }
  for (const key of ["1.abc", "x".repeat(300), "2.AAAAAAAAAAAAAAAAAAAAAAAAAAA"]) {
    const res = await stranger(`/affiliate/join/${key}`)
    expect(await res.text()).not.toContain("<form")
  }
})

/** The number of the one programme she is in, as her page sends it. */
async function programmeOfHers(): Promise<string> {
  await wilma.goto(`${origin}/affiliate/account`)
  return wilma.locator('input[name="programme"]').inputValue()
}

it("what waits and why a sale counted stand in the studio, and it is given to another with a reason", async () => {
  await page.goto(`${origin}/studio/affiliates/report`)
  await page.getByRole("heading", { name: "Report" }).waitFor()
  const why = page.getByRole("region", { name: "Who recommended it" })
  // The latest one that came by a link, and of which nothing was paid out or given back yet.
  find: for (let affiliate = 1; ; affiliate++) {
    await page.goto(`${origin}/studio/affiliates/${affiliate}`)
    const sales = page.getByRole("region", { name: "Sales" })
    await sales.waitFor()
    for (const link of await sales.getByRole("link").all()) {
      await page.goto(origin + (await link.getAttribute("href"))!)
      await why.getByText(/^Counted for /).waitFor()
      if (
        (await why.getByText(/^Counted for .+: link on/).count()) &&
        (await why.getByRole("button", { name: "Give it to another" }).count())
      )
        break find
      await page.goBack()
    }
  }
  await checkAccess(page, "why a sale counted")
  await why.getByRole("button", { name: "Give it to another" }).click()
  const dialog = page.getByRole("dialog")
  await dialog.getByLabel("From now on it counts for").selectOption({ label: "Wilma Crane" })
  await dialog.getByLabel("Why", { exact: true }).fill("They met at her stall")
  await dialog.getByRole("button", { name: "Give it" }).click()
  await why.getByText("“They met at her stall”").waitFor()
})

it("the payout that waits is marked as paid, with its lines, its file and a statement for each", async () => {
  await page.goto(`${origin}/studio`)
  await page.getByRole("link", { name: "See the payout" }).click()
  await page.getByRole("heading", { name: /^Payout P\d+/ }).waitFor()
  await page.getByRole("columnheader", { name: "Commission" }).first().waitFor()
  const address = page.url().split("?")[0]!
  const file = await page.request.get(`${address}/bank.xml`)
  expect(await file.text()).toContain("urn:iso:std:iso:20022:tech:xsd:pain.001.001.09")
  await checkAccess(page, "a payout")
  await page.getByRole("button", { name: "Mark as paid" }).click()
  await page.getByRole("dialog").getByRole("button", { name: "Yes, mark it as paid" }).click()
  await page.getByText(/marked as paid on/).waitFor()
  const statement = page.getByRole("link", { name: /^CN-\d{4}-\d{4}$/ }).first()
  await statement.waitFor()
  const pdf = await page.request.get(origin + (await statement.getAttribute("href"))!)
  expect((await pdf.body()).subarray(0, 5).toString()).toBe("%PDF-")
  await page.goto(`${origin}/studio/ledger/books`)
  await page.getByText("Owed to affiliates").waitFor()
  calm()
  wilmaCalm()
})
