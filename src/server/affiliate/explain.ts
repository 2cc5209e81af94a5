// Why a sale counted for one affiliate and not for another: the sentence, the whole chain, and what was earned by it.

import type { AttributionRule, MentionVerdict } from "@/core/affiliate/attribution"
import type { Rate } from "@/core/affiliate/programme"
import { decisionText, ruleText, verdictText } from "@/core/affiliate/words"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { schoolZone } from "../school-view"
import { affiliateNames, affiliatesToChoose, readRate } from "./affiliate"
import { readDecision } from "./sale"

export type Explained = {
  /** For whom it counts now; null: for nobody. */
  readonly affiliate: number | null
  readonly name: string | null
  readonly says: string
  readonly rule: string
  readonly moved: { readonly why: string; readonly at: Date } | null
  readonly chain: readonly {
    readonly affiliate: number
    readonly name: string
    readonly kind: "link" | "coupon"
    readonly at: number
    readonly sub: string
    readonly verdict: MentionVerdict
    readonly says: string
  }[]
  readonly earned: readonly {
    readonly id: number
    readonly name: string
    readonly level: 1 | 2
    readonly kind: "earned" | "back" | "moved" | "written-off"
    readonly what: string
    readonly base: number
    readonly rate: Rate | null
    readonly amount: number
    readonly currency: string
    readonly at: Date
    readonly due: Date
    /** Its payout, where it is in one. */
    readonly payout: number | null
  }[]
  /** Whether it can still be given to another. */
  readonly movable: boolean
  /** To whom it could be given. */
  readonly others: readonly { readonly id: number; readonly name: string }[]
}

/** Undefined where nobody was ever mentioned. `order`: the first of its story. */
export async function explainSale(db: Db, order: number): Promise<Explained | undefined> {
  const sale = await db.row<Pick<Row<"sale">, "affiliate_id" | "decision" | "moved_why" | "moved_at">>(
    "SELECT affiliate_id, decision, moved_why, moved_at FROM sale WHERE order_id = ?",
    [order],
  )
  const others = await affiliatesToChoose(db)
  if (!sale && !others.length) return undefined
  const decision = sale ? readDecision(sale.decision) : null
  const earned = await db.rows<
    Pick<Row<"commission">, "id" | "affiliate_id" | "base" | "rate" | "amount" | "currency" | "at"> & {
      level: 1 | 2
      kind: Explained["earned"][number]["kind"]
      what: string | null
      due: Date
      payout: number | null
    }
  >(
    `SELECT c.id, c.affiliate_id, c.level, c.kind, l.name AS what, c.base, c.rate, c.amount, c.currency, c.at, c.due_at AS due, x.payout_id AS payout
     FROM commission c LEFT JOIN order_line l ON l.id = c.order_line_id LEFT JOIN payout_line x ON x.commission_id = c.id WHERE c.order_id = ? ORDER BY c.id LIMIT 500`,
    [order],
  )
  const names = await affiliateNames(db, [
    ...(decision?.chain.map((m) => m.affiliate) ?? []),
    ...earned.map((e) => e.affiliate_id),
    sale?.affiliate_id ?? 0,
  ])
  const rule: AttributionRule = decision?.rule ?? { days: 30, which: "last" }
  return {
    affiliate: sale?.affiliate_id ?? null,
    name: sale?.affiliate_id ? names(sale.affiliate_id) : null,
    says: decision
      ? decisionText(decision, names, await schoolZone(db))
      : decisionText({ at: 0, rule, chain: [] }, names, "UTC"),
    rule: decision?.chain.length ? ruleText(rule) : "",
    moved: sale?.moved_at ? { why: sale.moved_why, at: sale.moved_at } : null,
    chain: (decision?.chain ?? []).map((m) => ({ ...m, name: names(m.affiliate), says: verdictText(m, rule) })),
    earned: earned.map(({ affiliate_id, ...e }) => ({
      ...e,
      name: names(affiliate_id),
      what: e.what ?? "",
      base: e.base,
      amount: e.amount,
      rate: readRate(e.rate || null),
    })),
    movable: earned.every((e) => e.payout === null),
    others: others.filter((o) => o.id !== sale?.affiliate_id),
  }
}
