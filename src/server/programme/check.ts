// What a programme lacks, before affiliates meet it: said with what they or their readers would suffer, and where it is mended.

import { commissionOn } from "@/core/affiliate/commission"
import { programmeRuns, termsFor } from "@/core/affiliate/programme"
import type { ProgrammeFacts } from "@/core/funnel/finding"
import { countsFor } from "@/core/offer/coupon"
import { moneyText } from "@/core/offer/money"
import { dueToday, planOf, spread } from "@/core/offer/plan"
import { words } from "@/core/words/en"
import type { Db } from "../db/pool"
import { couponReport } from "../offer/coupon"
import { shelfOf } from "../offer/quote"
import { listProgrammes, materialsOf, type ProgrammeSet } from "./programme"
import { pathOfStep, targetOf } from "./target"

export type ProgrammeFinding = { readonly says: string; readonly href?: string; readonly do?: string }

/** Only of one that is on: nobody suffers from the others. */
export async function checkProgramme(db: Db, now: number, p: ProgrammeSet): Promise<ProgrammeFinding[]> {
  if (!p.on) return []
  const w = words.affiliate.check
  const list: ProgrammeFinding[] = []
  const materials = await materialsOf(db, p.offer)
  if (!materials.length) list.push({ says: w.nothingToCopy })
  if (p.conditionsVersion === 0) list.push({ says: w.noConditions })
  if (!(await targetOf(db, p))) list.push({ says: w.leadsNowhere, href: "/studio/funnels", do: w.toFunnels })
  if (p.step !== null && !(await pathOfStep(db, p.step))) list.push({ says: w.pageIsDraft })
  for (const m of materials)
    if (m.step !== null && !(await pathOfStep(db, m.step))) list.push({ says: w.draft(m.title) })
  list.push(...(await tooMuch(db, now, p)))
  const coupons = await couponsOfAffiliates(db, p.offer)
  const over = (c: { readonly until: number | null }) => c.until !== null && c.until <= now
  // Whoever has another that counts needs no word of the old one.
  for (const c of coupons)
    if (over(c) && !coupons.some((other) => other.affiliate === c.affiliate && !over(other)))
      list.push({ says: w.couponOver(c.code, c.name), href: "/studio/offers/coupons", do: w.toCoupons })
  const gone = await linksToNowhere(db, p.offer)
  if (gone) list.push({ says: w.takenDown(gone) })
  return list
}

/** A commission that, with a coupon, is more than a charge leaves. Amounts are cut to what was paid; a high part eats it up. */
async function tooMuch(db: Db, now: number, p: ProgrammeSet): Promise<ProgrammeFinding[]> {
  const shelf = await shelfOf(db)
  const offer = shelf.offers.get(p.offer)
  if (!offer) return []
  const coupons = (await couponReport(db)).filter((c) => countsFor(c, p.offer) && (c.until === null || c.until > now))
  const found: ProgrammeFinding[] = []
  for (const t of offer.terms) {
    const context = { currency: offer.currency, tax: shelf.rules.tax, zone: shelf.rules.zone, start: now }
    const plain = planOf(t.terms, context)
    for (const c of coupons) {
      const [plan] = spread(c.discount, [plain])
      const { net, gross } = dueToday(plan!)
      if (gross === 0) continue
      const most = commissionOn(termsFor(p.terms, null, 1_000_000), { net, gross, fee: 0, n: 1 })
      // Of an amount that is as much as the whole, nothing is left for the school.
      if (most.first + most.second >= net && net > 0) {
        found.push({
          says: words.affiliate.check.tooMuch(c.code, moneyText(net, offer.currency)),
          href: "/studio/offers/coupons",
          do: words.affiliate.check.toCoupons,
        })
        break
      }
    }
  }
  return found.slice(0, 3)
}

const couponsOfAffiliates = (db: Db, offer: number) =>
  db
    .rows<{ affiliate: number; code: string; name: string; until_at: Date | null }>(
      `SELECT a.id AS affiliate, k.code, a.public_name AS name, k.until_at FROM coupon k JOIN affiliate a ON a.id = k.affiliate_id AND a.state = 'active'
       WHERE NOT EXISTS (SELECT 1 FROM coupon_offer o WHERE o.coupon_id = k.id) OR EXISTS (SELECT 1 FROM coupon_offer o WHERE o.coupon_id = k.id AND o.offer_id = ?) LIMIT 100`,
      [offer],
    )
    .then((rows) => rows.map((r) => ({ ...r, until: r.until_at?.getTime() ?? null })))

/** Links that affiliates had made to pages that are no longer live: they lead to the next best one. */
async function linksToNowhere(db: Db, offer: number): Promise<number> {
  const row = await db.row<{ n: number }>(
    `SELECT COUNT(*) AS n FROM affiliate_link l JOIN affiliate_part i ON i.affiliate_id = l.affiliate_id AND i.offer_id = ? JOIN affiliate a ON a.id = l.affiliate_id AND a.state = 'active'
     WHERE l.offer_id IS NULL AND NOT EXISTS (SELECT 1 FROM live_page p WHERE p.step_id = l.step_id)`,
    [offer],
  )
  return row?.n ?? 0
}

/** Every programme as preflight knows it. */
export async function programmeFacts(db: Db, now: number): Promise<ReadonlyMap<number, ProgrammeFacts>> {
  const facts = new Map<number, ProgrammeFacts>()
  for (const p of await listProgrammes(db))
    facts.set(p.offer, {
      name: p.name,
      on: programmeRuns(p, now),
      lacks: (await checkProgramme(db, now, p)).map((f) => f.says),
    })
  return facts
}
