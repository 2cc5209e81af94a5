// What an affiliate has earned, as it stands: pending, due, in a payout, paid.
import { type Standing, standing } from "@/core/affiliate/commission"
import { type Db, number } from "../db/pool"

/** By currency. */
export async function standingOf(
  db: Db,
  affiliate: number,
  now: number,
): Promise<(Standing & { readonly currency: string })[]> {
  const rows = await db.rows<{ currency: string; amount: string; due: Date; state: string | null }>(
    `SELECT c.currency, SUM(c.amount) AS amount, IF(c.payout_id IS NULL AND c.due_at > ?, MAX(c.due_at), ?) AS due, p.state FROM commission c LEFT JOIN payout p ON p.id = c.payout_id
     WHERE c.affiliate_id = ? AND c.kind <> 'written-off' GROUP BY c.currency, p.state, c.payout_id IS NULL AND c.due_at > ? ORDER BY c.currency`,
    [new Date(now), new Date(0), affiliate, new Date(now)],
  )
  return [...new Set(rows.map((r) => r.currency))].map((currency) => ({
    currency,
    ...standing(
      rows
        .filter((r) => r.currency === currency)
        .map((r) => ({
          affiliate,
          currency,
          amount: number(r.amount),
          due: r.due.getTime(),
          payout: r.state === null ? null : { paid: r.state === "paid" },
        })),
      now,
    ),
  }))
}
