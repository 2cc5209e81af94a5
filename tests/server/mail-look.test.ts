// E-mails wear the school's look: its logo or its name above, its colours also where the reader has chosen dark, and nothing that runs.
import sharp from "sharp"
import { afterAll, beforeAll, expect, test } from "vitest"
import { contrast } from "@/core/look/colour"
import { plainly } from "@/core/look/look"
import { dressOf } from "@/core/mail/sheet"
import { readLook, saveLook } from "@/server/look"
import { sendDue } from "@/server/mail/send"
import { findMedia, storeMedia } from "@/server/media/store"
import { schoolLook } from "@/server/school-view"
import { buy, openShop, type Shop } from "../support/shop"

let shop: Shop
beforeAll(async () => {
  shop = await openShop("mail_look")
})
afterAll(() => shop.t.end())

async function receipt(): Promise<string> {
  const before = shop.t.sent.length
  await buy(shop, "fine")
  for (let i = 0; i < 5; i++) await sendDue(shop.t.s, "w")
  const found = shop.t.sent.slice(before).find((m) => m.html.includes("€"))
  if (!found) throw new Error("no receipt was sent")
  return found.html
}

test("a receipt wears the look, under the school's name", async () => {
  await saveLook(shop.t.s, plainly("workshop"), await readLook(shop.t.s.db))
  const { day, dark } = dressOf(await schoolLook(shop.t.s.db))
  const html = await receipt()
  expect(html).toMatch(/<p class="head"[^>]*>Juniper Crock<\/p>/)
  expect(html).toContain(`background-color: ${day.action}`)
  expect(html).toContain(`@media (prefers-color-scheme:dark){body,.ground{background-color:${dark.ground}!important}`)
  expect(html).not.toMatch(/<script|javascript:|onload|<link|@import/i)
  // Common practice: mail programs cut what is longer than about 102 KB.
  expect(Buffer.byteLength(html)).toBeLessThan(100_000)
  // WCAG 2.2, 1.4.3, for every pair of a button and a text, by day and in the dark.
  for (const d of [day, dark])
    for (const [text, ground] of [
      [d.ink, d.ground],
      [d.soft, d.ground],
      [d.accent, d.ground],
      [d.onAction, d.action],
    ] as const)
      expect(contrast(text, ground)).toBeGreaterThanOrEqual(4.5)
})

test("with a logo it stands above, as a picture that mail programs show, with its size and its words", async () => {
  const svg =
    '<svg xmlns="http://www.w3.org/2000/svg" width="300" height="100"><circle cx="50" cy="50" r="40" fill="#a31"/></svg>'
  const logo = await storeMedia(shop.t.s, "picture", "sign.svg", Buffer.from(svg))
  if ("refused" in logo) throw new Error(logo.refused)
  await saveLook(shop.t.s, { ...plainly("workshop"), logo: logo.id }, await readLook(shop.t.s.db))
  const html = await receipt()
  const sign = /<img class="logo" src="([^"]+)" width="(\d+)" height="(\d+)" alt="Juniper Crock"/.exec(html)!
  expect([sign[2], sign[3]]).toEqual(["108", "36"])
  expect(sign[1]).toMatch(new RegExp(`^${shop.t.s.config.origin}/media/[0-9a-f]{24}-logo\\.png$`))
  const file = await findMedia(shop.t.s.db, shop.t.s.config, sign[1]!.split("/").at(-1)!)
  const { format, height, hasAlpha } = await sharp(file!.path).metadata()
  // Three times as high as it is shown, and clear where it was.
  expect([format, height, hasAlpha]).toEqual(["png", 108, true])
})
