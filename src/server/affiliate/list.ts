// The list of affiliates with what they bring; who waits to be let in, and about whom something is odd.
import { type Odd, oddities } from "@/core/affiliate/odd"
import { everybody } from "@/core/person/segment/segment"
import { type Db, number } from "../db/pool"
import { whereOf } from "../person/where"
import { type Affiliate, type AffiliateState, affiliateColumns } from "./affiliate"
import { type Between, type Brings, bringsMost, brought, nothing } from "./report"

export type AffiliatesQuery = Between & {
  readonly state: AffiliateState | null
  readonly search: string
  /** Only those in a segment that is kept by name. */
  readonly segment?: number | null
  /** Counted from 0. */
  readonly page: number
}

export const affiliatePage = 50

/** A page of those who fit, those who bring most sales first, and how many fit in all. */
export async function listAffiliates(
  db: Db,
  q: AffiliatesQuery,
  now: number,
): Promise<{ readonly list: readonly (Affiliate & Brings)[]; readonly total: number }> {
  const text = q.search
    .trim()
    .toLowerCase()
    .replace(/[\\%_]/g, "\\$&")
  const within = await whereOf(
    db,
    q.segment ? { match: "all", parts: [{ kind: "segment", segment: q.segment, is: true }] } : everybody,
    now,
  )
  const fit = await db.rows<{ id: number }>(
    `SELECT a.id FROM affiliate a LEFT JOIN person p ON p.id = a.person_id
     WHERE (? IS NULL OR a.state = ?) AND (? = '' OR a.public_name LIKE ? OR CONVERT(a.code USING utf8mb4) LIKE ? OR p.email LIKE ?) AND ${within.sql}`,
    [q.state, q.state, text, `%${text}%`, `${text}%`, `${text}%`, ...within.values],
  )
  const brings = await brought(db, "affiliate", q)
  const shown = fit
    .map(({ id }) => ({ id, ...(brings.get(String(id)) ?? nothing) }))
    .sort((a, b) => bringsMost(a, b) || a.id - b.id)
    .slice(q.page * affiliatePage, (q.page + 1) * affiliatePage)
  const rows = await db.rows<Affiliate>(`SELECT ${affiliateColumns} FROM affiliate a WHERE a.id IN (?)`, [
    [0, ...shown.map((x) => x.id)],
  ])
  const known = new Map(rows.map((r) => [r.id, { ...r, shown: Boolean(r.shown) }]))
  const list = shown.flatMap((x) => {
    const a = known.get(x.id)
    return a ? [{ ...a, ...x }] : []
  })
  return { list, total: fit.length }
}

/** Those who asked to be let in, who asked first at the top; at most five, and how many there are. */
export async function waitingAffiliates(db: Db) {
  const first = await db.rows<{ id: number; name: string; email: string | null; askedAt: Date }>(
    "SELECT a.id, a.public_name AS name, p.email, a.asked_at AS askedAt FROM affiliate a LEFT JOIN person p ON p.id = a.person_id WHERE a.state = 'asked' ORDER BY a.asked_at, a.id LIMIT 5",
  )
  const all = await db.row<{ n: number }>("SELECT COUNT(*) AS n FROM affiliate WHERE state = 'asked'")
  return { first, total: all?.n ?? 0 }
}

/** Active affiliates about whom something is odd, of everything that they ever brought; those who are only quiet last. */
export async function oddAffiliates(
  db: Db,
  now: number,
): Promise<{ readonly id: number; readonly name: string; readonly odd: readonly Odd[] }[]> {
  const [active, clicks, joins, sales, refunded] = await Promise.all([
    db.rows<{ id: number; name: string; since: Date | null }>(
      "SELECT id, public_name AS name, since FROM affiliate WHERE state = 'active' ORDER BY id",
    ),
    byAffiliate<{ n: string; last: Date }>(
      db,
      "SELECT affiliate_id AS id, SUM(n) AS n, MAX(last_at) AS last FROM mention_total GROUP BY affiliate_id",
    ),
    byAffiliate<{ n: string }>(
      db,
      "SELECT affiliate_id AS id, COUNT(*) AS n FROM affiliate_join GROUP BY affiliate_id",
    ),
    byAffiliate<{ n: string; same: string }>(
      db,
      `SELECT id, SUM(n) AS n, MAX(IF(connection = '', 0, n)) AS same FROM (
         SELECT affiliate_id AS id, connection, COUNT(*) AS n FROM sale WHERE affiliate_id IS NOT NULL GROUP BY affiliate_id, connection) x GROUP BY id`,
    ),
    byAffiliate<{ n: string }>(
      db,
      `SELECT m.affiliate_id AS id, COUNT(DISTINCT m.order_id) AS n FROM sale_sum m
       WHERE m.net > 0 AND m.back >= m.net AND NOT EXISTS (SELECT 1 FROM sale_sum o WHERE o.order_id = m.order_id AND o.back < o.net) GROUP BY m.affiliate_id`,
    ),
  ])
  const only = (o: readonly Odd[]) => Number(o.every((x) => x.kind === "quiet"))
  const found = active.flatMap((a) => {
    const since = clicks.get(a.id)?.last ?? a.since
    const odd = oddities({
      clicks: number(clicks.get(a.id)?.n),
      joins: number(joins.get(a.id)?.n),
      sales: number(sales.get(a.id)?.n),
      refunded: number(refunded.get(a.id)?.n),
      fromOneConnection: number(sales.get(a.id)?.same),
      quietDays: since ? Math.floor((now - since.getTime()) / 86_400_000) : null,
    })
    return odd.length ? [{ id: a.id, name: a.name, odd }] : []
  })
  return found.sort((a, b) => only(a.odd) - only(b.odd))
}

const byAffiliate = async <T>(db: Db, sql: string) =>
  new Map((await db.rows<T & { id: number }>(sql)).map((r) => [r.id, r]))
