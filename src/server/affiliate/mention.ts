// Mentions: somebody came by an affiliate's link. Put down by the hundred, kept on the visitor's first-party id, and on the
// person once they join or buy, so that they hold on another device and after the cookie is gone.
import { randomBytes } from "node:crypto"
import { attribute, longestChain, type Mention, mentionCounts } from "@/core/affiliate/attribution"
import type { Db } from "../db/pool"
import { onceKey } from "../happen"
import { affiliateRules } from "./rules"

export type NewMention = {
  readonly affiliate: number
  readonly sub: string
  /** The page it led to. */
  readonly step: number | null
  /** Null: it is counted, and remembered of nobody. */
  readonly visitor: Buffer | null
  /** Instant, ms. */
  readonly at: number
}

/** The same link in the same hour is one mention. */
export const mentionKey = (m: NewMention) =>
  m.visitor
    ? onceKey(`mention:${m.visitor.toString("hex")}:${m.affiliate}:${m.sub}:${Math.floor(m.at / 3_600_000)}`)
    : randomBytes(16)

export async function recordMentions(db: Db, all: readonly NewMention[]): Promise<void> {
  if (!all.length) return
  await db.transaction(async (tx) => {
    const fresh = await tx.rows<{ affiliate_id: number; sub: string; at: Date }>(
      "INSERT IGNORE INTO mention (once, at, affiliate_id, sub, step_id, visitor) VALUES ? RETURNING affiliate_id, sub, at",
      [all.map((m) => [mentionKey(m), new Date(m.at), m.affiliate, m.sub, m.step, m.visitor])],
    )
    const totals = new Map<string, [affiliate: number, sub: string, n: number, last: Date]>()
    for (const m of fresh) {
      const key = `${m.affiliate_id}:${m.sub}`
      const [, , n, last] = totals.get(key) ?? [0, "", 0, m.at]
      totals.set(key, [m.affiliate_id, m.sub, n + 1, new Date(Math.max(last.getTime(), m.at.getTime()))])
    }
    if (totals.size)
      await tx.write(
        "INSERT INTO mention_total (affiliate_id, sub, n, last_at) VALUES ? ON DUPLICATE KEY UPDATE n = n + VALUES(n), last_at = GREATEST(last_at, VALUES(last_at))",
        [[...totals.values()].sort((a, b) => a[0] - b[0] || (a[1] < b[1] ? -1 : 1))],
      )
  })
}

/** The whole chain of mentions of a visitor, of a person and of the devices that are proved to be theirs, the latest of it. */
export async function chainOf(
  db: Db,
  who: { readonly visitor: Buffer | null; readonly person: number | null },
): Promise<Mention[]> {
  const rows = await db.rows<{ affiliate: number; at: Date; sub: string }>(
    `(SELECT id, affiliate_id AS affiliate, at, sub FROM mention WHERE visitor = ? ORDER BY at DESC LIMIT ?)
     UNION (SELECT id, affiliate_id, at, sub FROM mention WHERE person_id = ? ORDER BY at DESC LIMIT ?)
     UNION (SELECT m.id, m.affiliate_id, m.at, m.sub FROM device d JOIN mention m ON m.visitor = d.visitor WHERE d.person_id = ? ORDER BY m.at DESC LIMIT ?)
     ORDER BY at DESC LIMIT ?`,
    [who.visitor, longestChain, who.person, longestChain, who.person, longestChain, longestChain],
  )
  return rows
    .map((r) => ({ affiliate: r.affiliate, kind: "link", at: r.at.getTime(), sub: r.sub }))
    .reverse() as Mention[]
}

/**
 * What a device was shown is a person's from now on, where it has proved to be theirs: anybody can type an address. To be called
 * inside a transaction.
 */
export async function attachMentions(tx: Db, visitor: Buffer, person: number): Promise<void> {
  await tx.write(
    "UPDATE mention SET person_id = ? WHERE visitor = ? AND person_id IS NULL AND EXISTS (SELECT 1 FROM device d WHERE d.visitor = ? AND d.person_id = ?)",
    [person, visitor, visitor, person],
  )
}

/** For whom a person counts at an instant, whatever they buy: who brought them, should they become an affiliate. */
export async function whoBrought(tx: Db, person: number, at: number): Promise<number | null> {
  const chain = await chainOf(tx, { visitor: null, person })
  const active = await tx.rows<{ id: number }>(
    "SELECT id FROM affiliate WHERE id IN (?) AND state = 'active' AND person_id <> ?",
    [[0, ...chain.map((m) => m.affiliate)], person],
  )
  const there = new Set(active.map((a) => a.id))
  const { mention } = await affiliateRules(tx)
  return mentionCounts(attribute(chain, mention, at, (a) => (there.has(a) ? null : "ended")))?.affiliate ?? null
}

/** Affiliates as links name them: also by codes they had before. */
export type NamedAffiliate = {
  readonly id: number
  readonly code: string
  readonly name: string
  readonly shown: boolean
}

export async function activeByCode(db: Db): Promise<Map<string, NamedAffiliate>> {
  const rows = await db.rows<{ id: number; code: string; name: string; shown: number; given: string }>(
    `SELECT a.id, a.code, a.public_name AS name, a.shown, a.code AS given FROM affiliate a WHERE a.state = 'active'
     UNION ALL SELECT a.id, a.code, a.public_name, a.shown, b.code FROM code_before b JOIN affiliate a ON a.id = b.affiliate_id WHERE a.state = 'active'`,
  )
  return new Map(rows.map((r) => [r.given, { id: r.id, code: r.code, name: r.name, shown: Boolean(r.shown) }]))
}
