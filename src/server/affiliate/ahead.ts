// What waits for the school's hand of affiliates: who wants to join, a bonus to be looked at, a payout to be paid or made.
import { nextPayDay } from "@/core/affiliate/payout"
import { words } from "@/core/words/en"
import type { Db } from "../db/pool"
import { dayKey } from "../offer/shown"
import { schoolZone } from "../school-view"
import { affiliateRules } from "./rules"

export type WaitingAffiliates = { readonly words: string; readonly says: string; readonly href: string }

export async function waitingOfAffiliates(db: Db, now: number): Promise<WaitingAffiliates[]> {
  const count = async (sql: string, values: unknown[] = []) => (await db.row<{ n: number }>(sql, values))?.n ?? 0
  const w = words.affiliate.today
  const list: WaitingAffiliates[] = []
  const asked = await count(
    "SELECT COUNT(*) AS n FROM affiliate a WHERE a.state = 'asked' OR (a.state = 'active' AND EXISTS (SELECT 1 FROM affiliate_in i WHERE i.affiliate_id = a.id AND i.waits = 1))",
  )
  if (asked) list.push({ words: w.asked(asked), says: w.toAsked, href: "/studio/affiliates" })
  const named = await db.row<{ id: number; name: string; wanted: string }>(
    "SELECT id, public_name AS name, wanted_name AS wanted FROM affiliate WHERE wanted_name IS NOT NULL ORDER BY id LIMIT 1",
  )
  if (named)
    list.push({ words: w.named(named.name, named.wanted), says: w.toNamed, href: `/studio/affiliates/${named.id}` })
  const bonus = await db.row<{ affiliate: number; name: string }>(
    "SELECT b.affiliate_id AS affiliate, a.public_name AS name FROM bonus b JOIN affiliate a ON a.id = b.affiliate_id WHERE b.state = 'asked' ORDER BY b.id LIMIT 1",
  )
  if (bonus) list.push({ words: w.bonus(bonus.name), says: w.toBonus, href: `/studio/affiliates/${bonus.affiliate}` })
  const made = await db.row<{ id: number }>("SELECT id FROM payout WHERE state = 'made' ORDER BY id LIMIT 1")
  if (made) list.push({ words: w.made(made.id), says: w.toMade, href: `/studio/affiliates/payouts/${made.id}` })
  // On a day on which is paid, what is due and in no payout is one to be made.
  const today = dayKey(now, await schoolZone(db))
  const { payDays } = await affiliateRules(db)
  if (!made && nextPayDay(payDays, today) === today) {
    const due = await count(
      "SELECT COUNT(DISTINCT affiliate_id) AS n FROM commission_open WHERE left_out IS NULL AND due_at <= ?",
      [new Date(now)],
    )
    if (due) list.push({ words: w.payDay(due), says: w.toPayDay, href: "/studio/affiliates/payouts/new" })
  }
  return list
}
