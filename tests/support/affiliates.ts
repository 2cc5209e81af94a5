// A shop with affiliates, for server tests: who recommends, what they are mentioned by, and where they are paid.
import { expect } from "vitest"
import type { TestCard } from "@/core/offer/card"
import { askBankChange, confirmBankChange } from "@/server/affiliate/bank"
import { addAffiliate } from "@/server/affiliate/come"
import { recordMentions } from "@/server/affiliate/mention"
import { makePayout, previewPayout } from "@/server/affiliate/payout"
import type { CheckoutForm } from "@/server/ledger/place"
import { someVisitor } from "./school"
import { buy, type Shop } from "./shop"

/** The rules of the school, as a form sends them. */
export const payRules = {
  days: 30,
  which: "last",
  consent: "not-needed",
  dueDays: 30,
  least: 0,
  payDays: [1],
  withTax: false,
  holder: "Juniper Crock",
  iban: "NO93 8601 1117 947",
  bic: "",
  notePrefix: "CN",
}

/** Accounts that the registry gives as examples. */
export const ibans = ["DE89 3704 0044 0532 0130 00", "FR14 2004 1010 0505 0001 3M02 606", "NL91 ABNA 0417 1643 00"]

export async function affiliateIn(shop: Shop, email: string, name: string, offer = shop.offers.main): Promise<number> {
  const made = await addAffiliate(shop.t.s, { email, name, offer, atOnce: true })
  if ("refused" in made) throw new Error(made.refused)
  return made.id
}

export const clickOn = (shop: Shop, who: number, visitor: Buffer, at = shop.t.at(), sub = "") =>
  recordMentions(shop.t.s.db, [{ affiliate: who, sub, step: null, visitor, at }])

/** Somebody buys by a link of an affiliate's. */
export async function soldBy(
  shop: Shop,
  who: number,
  card: TestCard = "fine",
  form: Partial<CheckoutForm> = {},
  sub = "",
) {
  const visitor = someVisitor()
  await clickOn(shop, who, visitor, shop.t.at(), sub)
  return (await buy(shop, card, form, visitor)).order
}

/** Bank details that are typed and confirmed. */
export async function withBank(
  shop: Shop,
  who: number,
  iban = ibans[0]!,
  more: { holder?: string; taxNumber?: string } = {},
) {
  const typed = { holder: "Ada Fern", iban, bic: "", postal: "Moss Lane 1", taxNumber: "", ...more }
  expect(await askBankChange(shop.t.s, who, typed)).toEqual({ ok: true })
  const change = await shop.t.s.db.row<{ id: number }>("SELECT MAX(id) AS id FROM bank_change WHERE affiliate_id = ?", [
    who,
  ])
  expect(await confirmBankChange(shop.t.s, change!.id)).toBe(true)
}

let forms = 0
export const onceOf = (what: string) => `${what}-${String(++forms).padStart(24 - what.length, "0")}`

/** Makes a payout of everything that is due before an instant, as it is seen at that moment. */
export async function payNow(shop: Shop, until = shop.t.at()) {
  const { s } = shop.t
  const { seen } = await previewPayout(s, until)
  return makePayout(s, { once: onceOf("payout"), until, day: new Date(until).toISOString().slice(0, 10), seen })
}
