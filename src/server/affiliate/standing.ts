// What an affiliate has earned, as it stands: pending, due, in a payout, paid.
import { type AffiliateStanding, standing } from "@/core/affiliate/commission"
import type { Db } from "../db/pool"

/** By currency. */
export async function affiliateStanding(
  db: Db,
  affiliate: number,
  now: number,
): Promise<(AffiliateStanding & { readonly currency: string })[]> {
  const rows = await db.rows<{ currency: string; amount: number; pending: number; state: string | null }>(
    `SELECT c.currency, SUM(c.amount) AS amount, p.id IS NULL AND c.due_at > ? AS pending, p.state FROM commission c
     LEFT JOIN payout_line x ON x.commission_id = c.id LEFT JOIN payout p ON p.id = x.payout_id
     WHERE c.affiliate_id = ? GROUP BY c.currency, p.state, pending ORDER BY c.currency`,
    [new Date(now), affiliate],
  )
  const off = new Set(
    (
      await db.rows<{ currency: string }>(
        "SELECT DISTINCT c.currency FROM commission c JOIN commission_open o ON o.commission_id = c.id WHERE c.affiliate_id = ? AND c.kind = 'written-off'",
        [affiliate],
      )
    ).map((r) => r.currency),
  )
  return [...new Set(rows.map((r) => r.currency))].map((currency) => {
    const stands = standing(
      rows
        .filter((r) => r.currency === currency)
        .map((r) => ({
          affiliate,
          currency,
          amount: r.amount,
          due: r.pending ? now + 1 : 0,
          payout: r.state === null ? null : { paid: r.state === "paid" },
        })),
      now,
    )
    // What is written off is owed no longer, though some of it would be due only later.
    if (!off.has(currency)) return { currency, ...stands }
    return { currency, ...stands, pending: 0, due: stands.pending + stands.due }
  })
}
