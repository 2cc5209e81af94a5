// What affiliates bring, between two dates: clicks, people, sales, money, what was given back and what is left after commission.
// Money is of the sales made then, with everything that has come of them since.
import { decimalOf } from "@/core/offer/money"
import { csv } from "../csv"
import { type Db, number } from "../db/pool"

export type Between = { readonly from: number | null; readonly to: number | null }

export type Money = {
  readonly currency: string
  /** Without tax, minor units. */
  readonly net: number
  readonly back: number
  readonly commission: number
}

export type Brings = {
  readonly clicks: number
  readonly joins: number
  readonly sales: number
  readonly money: readonly Money[]
}

const window = (column: string, b: Between) =>
  `${b.from === null ? "" : ` AND ${column} >= ?`}${b.to === null ? "" : ` AND ${column} < ?`}`
const bounds = (b: Between) => [b.from, b.to].flatMap((x) => (x === null ? [] : [new Date(x)]))

type Key = "affiliate" | "offer" | "link"

/** SQL: what a row of each kind is told by, of clicks, joins and sales `x`. */
const keyed: Readonly<Record<Key, string>> = {
  affiliate: "x.affiliate_id",
  offer: "x.offer_id",
  link: "CONCAT(x.affiliate_id, ':', x.sub)",
}

/** What was brought, by affiliate, offer or link; of one affiliate alone where one is given. */
export async function brought(db: Db, by: Key, b: Between, one: number | null = null): Promise<Map<string, Brings>> {
  const key = keyed[by]
  const where = `${window("x.at", b)}${one === null ? "" : " AND x.affiliate_id = ?"}`
  const values = [...bounds(b), ...(one === null ? [] : [one])]
  const ever = b.from === null && b.to === null
  const count = (from: string, n = "COUNT(*)") =>
    db.rows<{ k: string | number; n: number }>(`SELECT ${key} AS k, ${n} AS n FROM ${from} GROUP BY 1`, values)
  const [clicks, joins, sales, money] = await Promise.all([
    by === "offer"
      ? []
      : ever
        ? count(`mention_total x WHERE 1 = 1${where}`, "SUM(x.n)")
        : count(`mention x WHERE 1 = 1${where}`),
    by === "offer" ? [] : count(`affiliate_join x WHERE 1 = 1${where}`),
    count(`sale x WHERE x.affiliate_id IS NOT NULL${where}`),
    db.rows<{ k: string | number; currency: string; net: number; back: number; commission: number }>(
      `SELECT ${key} AS k, x.currency, SUM(x.net) AS net, SUM(x.back) AS back, SUM(x.commission) AS commission FROM sale_sum x WHERE 1 = 1${where} GROUP BY 1, 2`,
      values,
    ),
  ])
  const map = new Map<string, { clicks: number; joins: number; sales: number; money: Money[] }>()
  const at = (k: string | number) => {
    const found = map.get(String(k)) ?? { clicks: 0, joins: 0, sales: 0, money: [] }
    map.set(String(k), found)
    return found
  }
  for (const r of clicks) at(r.k).clicks = r.n
  for (const r of joins) at(r.k).joins = r.n
  for (const r of sales) at(r.k).sales = r.n
  for (const r of money)
    at(r.k).money.push({
      currency: r.currency,
      net: r.net,
      back: r.back,
      commission: r.commission,
    })
  return map
}

export const nothing: Brings = { clicks: 0, joins: 0, sales: 0, money: [] }

/** Those who bring most sales first, then most people, then most clicks. */
export const bringsMost = (a: Brings, b: Brings) => b.sales - a.sales || b.joins - a.joins || b.clicks - a.clicks

export type ReportRow = Brings & { readonly key: string; readonly name: string; readonly more: string }

/** The report by affiliate, offer or link, those with most sales first. */
export async function report(db: Db, by: Key, b: Between): Promise<ReportRow[]> {
  const all = await brought(db, by, b)
  const keys = [...all.keys()]
  const ids = keys.map((k) => Number(k.split(":")[0]))
  const names = new Map(
    (
      await db.rows<{ id: number; name: string }>(
        by === "offer"
          ? "SELECT id, public_name AS name FROM offer WHERE id IN (?)"
          : "SELECT id, public_name AS name FROM affiliate WHERE id IN (?)",
        [[0, ...ids]],
      )
    ).map((r) => [r.id, r.name]),
  )
  return keys
    .map((key, i) => ({
      key,
      name: names.get(ids[i]!) || "erased",
      more: by === "link" ? key.slice(key.indexOf(":") + 1) : "",
      ...all.get(key)!,
    }))
    .sort((a, b) => bringsMost(a, b) || (a.key < b.key ? -1 : 1))
}

/** The same as CSV (RFC 4180): a row for each, and for each currency it sold in. */
export async function* reportCsv(db: Db, by: Key, b: Between): AsyncGenerator<string> {
  const rows = await report(db, by, b)
  yield csv([
    [
      by,
      ...(by === "link" ? ["name of the link"] : []),
      ...(by === "offer" ? [] : ["clicks", "joined"]),
      "sales",
      "currency",
      "net",
      "given back",
      "commission",
      "left",
    ],
  ])
  yield csv(
    rows.flatMap((r) =>
      (r.money.length ? r.money : [null]).map((m) => [
        r.name,
        ...(by === "link" ? [r.more] : []),
        ...(by === "offer" ? [] : [r.clicks, r.joins]),
        r.sales,
        m?.currency ?? "",
        ...(m
          ? [m.net, m.back, m.commission, m.net - m.back - m.commission].map((n) => decimalOf(n, m.currency))
          : ["", "", "", ""]),
      ]),
    ),
  )
}

export type SaleListed = {
  readonly order: number
  readonly at: Date
  readonly what: string
  readonly gross: number
  readonly currency: string
  readonly state: string
  readonly commission: number
  readonly sub: string
  readonly moved: string
}

/** The sales of an affiliate, the latest first. */
export async function salesOf(db: Db, affiliate: number, limit = 50): Promise<SaleListed[]> {
  const rows = await db.rows<SaleListed & { commission: string }>(
    `SELECT s.order_id AS \`order\`, s.at, s.sub, s.moved_why AS moved, o.gross, o.currency, o.state,
       (SELECT GROUP_CONCAT(l.name ORDER BY l.id SEPARATOR ', ') FROM order_line l WHERE l.order_id = o.id) AS what,
       (SELECT COALESCE(SUM(c.amount), 0) FROM commission c WHERE c.order_id = s.order_id AND c.affiliate_id = s.affiliate_id AND c.kind <> 'written-off') AS commission
     FROM sale s JOIN orders o ON o.id = s.order_id WHERE s.affiliate_id = ? ORDER BY s.at DESC, s.order_id DESC LIMIT ?`,
    [affiliate, limit],
  )
  return rows.map((r) => ({ ...r, what: r.what ?? "", gross: r.gross, commission: number(r.commission) }))
}
