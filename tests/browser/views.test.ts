// Every view of the studio by axe, light and dark, and that it fits its screen.

import type { Browser, Page } from "playwright-core"
import { afterAll, beforeAll, describe, expect, inject, it } from "vitest"
import { checkAccess, desktop, openBrowser, openPage, signIn } from "../support/browser"

const origin = inject("origin")
let browser: Browser
beforeAll(async () => {
  browser = await openBrowser()
})
afterAll(() => browser.close())

const views = [
  "/studio",
  "/studio/funnels",
  "/studio/funnels/new",
  "/studio/funnels/1",
  "/studio/funnels/1?step=p1",
  "/studio/funnels/1/steps/1",
  "/studio/mail/sequences",
  "/studio/mail/sequences/1",
  "/studio/mail/sequences/3",
  "/studio/mail/broadcasts",
  "/studio/mail/broadcasts/1",
  "/studio/mail/broadcasts/2",
  "/studio/mail/broadcasts/2/text",
  "/studio/mail/delivery",
  "/studio/mail/quiet-hours",
  "/studio/calendar",
  "/studio/calendar?view=week",
  "/studio/calendar?view=list",
  "/studio/calendar/webinars",
  "/studio/calendar/webinars/1",
  "/studio/calendar/webinars/1/came",
  "/studio/calendar/webinars/1/dates/9",
  "/studio/funnels/3?date=9",
  "/studio/mail/1",
  "/studio/settings/automations",
  "/studio/people/import",
  "/studio/people/fields",
  "/studio/people/fields?field=1",
  "/standins/names",
  "/studio/courses",
  "/studio/courses/1",
  "/studio/courses/2?lesson=6",
  "/studio/courses/2/opens",
  "/studio/courses/2/without-access",
  "/studio/courses/2/members",
  "/studio/courses/1/comments",
  "/studio/courses/2/hand-ins",
  "/studio/courses/2/preview?as=learner&days=40",
  "/studio/courses/2/settings",
  "/studio/courses/lessons/6?block=roots",
  "/studio/people",
  "/studio/people?search=nobody-is-called-so",
  "/studio/people/3",
  "/studio/mail",
  "/studio/mail/due",
  "/studio/mail/due?show=rejected",
  "/studio/funnels/2",
  "/studio/funnels/2?in=money&from=beginning&ways=7.declined",
  "/studio/funnels/2/steps/6?block=pay",
  "/studio/offers",
  "/studio/offers/1",
  "/studio/offers/4",
  "/studio/offers/coupons",
  "/studio/affiliates",
  "/studio/affiliates?search=nobody-is-called-so",
  "/studio/affiliates/1",
  "/studio/affiliates/programmes",
  "/studio/affiliates/programmes/1",
  "/studio/affiliates/report?by=link",
  "/studio/affiliates/payouts",
  "/studio/affiliates/payouts/new",
  "/studio/affiliates/payouts/1",
  "/studio/affiliates/rules",
  "/studio/funnels/2?from=beginning&by=each",
  "/studio/numbers",
  "/studio/numbers?by=funnel&from=2019-01-01&to=2019-12-31",
  "/studio/numbers/change?funnel=2",
  "/studio/numbers/forecast?funnel=2",
  "/studio/numbers?by=offer",
  "/studio/numbers/days?funnel=2",
  "/studio/numbers/report",
  "/studio/funnels/2?over=forecast",
  "/studio/numbers/groups",
  "/studio/numbers/costs",
  "/studio/ledger",
  "/studio/ledger?search=nobody-is-called-so",
  "/studio/ledger/orders/1",
  "/studio/ledger/plans",
  "/studio/funnels/links",
  "/studio/funnels/sections",
  "/studio/ledger/books",
  "/studio/settings",
  "/studio/settings/mail",
  "/studio/settings/cards",
  "/studio/settings/account",
  "/standins/mailbox",
]

const widths = [360, 640, 768, 1024, 1280]

describe("in light and dark, on narrow and wide screens", () => {
  let page: Page
  let calm: () => void
  beforeAll(async () => {
    ;({ page, calm } = await openPage(await browser.newContext({ ...desktop, colorScheme: "light" })))
    await page.goto(`${origin}/studio/sign-in`)
    await checkAccess(page, "sign-in")
    await signIn(page, origin)
  })
  it.each(views)("%s", async (view) => {
    await page.goto(origin + view)
    await page.getByRole("main").getByRole("heading").first().waitFor()
    await checkAccess(page, view)
    await page.emulateMedia({ colorScheme: "dark" })
    await page.evaluate(() => Promise.all(document.getAnimations().map((a) => a.finished.catch(() => null))))
    await checkAccess(page, `${view} in the dark`)
    await page.emulateMedia({ colorScheme: "light" })
    for (const width of widths) {
      await page.setViewportSize({ width, height: 768 })
      // A chart is drawn anew a moment after its place has changed.
      const taken = () => page.evaluate(() => document.documentElement.scrollWidth)
      await expect.poll(taken, { message: `${view} on a screen ${width} wide` }).toBe(width)
    }
    await page.setViewportSize(desktop.viewport)
    calm()
  })
})

describe("the HTML as it is sent", () => {
  it.each(["/learn/sign-in", "/studio/sign-in", "/affiliate/sign-in"])("%s has forms with an address", async (path) => {
    const html = await (await fetch(origin + path)).text()
    expect(html).toContain("<form")
    expect(html).not.toContain('action=""')
  })
})
