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

/** SQL: what a row of each kind is told by, of mentions `m`, joins `j` and sales `s`. */
const keyed: Readonly<Record<Key, { mention: string; join: string; sale: string }>> = {
  affiliate: { mention: "m.affiliate_id", join: "j.affiliate_id", sale: "s.affiliate_id" },
  offer: {
    mention: "0",
    join: "0",
    sale: "(SELECT l.offer_id FROM order_line l WHERE l.order_id = s.order_id AND l.role = 'main' LIMIT 1)",
  },
  link: {
    mention: "CONCAT(m.affiliate_id, ':', m.sub)",
    join: "CONCAT(j.affiliate_id, ':', j.sub)",
    sale: "CONCAT(s.affiliate_id, ':', s.sub)",
  },
}

/** What was brought, by affiliate, offer or link; of one affiliate alone where one is given. */
export async function brought(db: Db, by: Key, b: Between, one: number | null = null): Promise<Map<string, Brings>> {
  const k = keyed[by]
  const only = (alias: string) => (one === null ? "" : ` AND ${alias}.affiliate_id = ?`)
  const values = [...bounds(b), ...(one === null ? [] : [one])]
  const map = new Map<string, { clicks: number; joins: number; sales: number; money: Map<string, Money> }>()
  const at = (key: unknown) => {
    const found = map.get(String(key)) ?? { clicks: 0, joins: 0, sales: 0, money: new Map<string, Money>() }
    map.set(String(key), found)
    return found
  }
  const money = (key: unknown, currency: string, more: Partial<Money>) => {
    const of = at(key).money
    const was = of.get(currency) ?? { currency, net: 0, back: 0, commission: 0 }
    of.set(currency, {
      currency,
      net: was.net + (more.net ?? 0),
      back: was.back + (more.back ?? 0),
      commission: was.commission + (more.commission ?? 0),
    })
  }
  if (by !== "offer") {
    const clicks = await db.rows<{ k: string; n: string }>(
      `SELECT ${k.mention} AS k, COUNT(*) AS n FROM mention m WHERE 1 = 1${window("m.at", b)}${only("m")} GROUP BY 1`,
      values,
    )
    for (const c of clicks) at(c.k).clicks = number(c.n)
    const joins = await db.rows<{ k: string; n: string }>(
      `SELECT ${k.join} AS k, COUNT(*) AS n FROM affiliate_join j WHERE 1 = 1${window("j.at", b)}${only("j")} GROUP BY 1`,
      values,
    )
    for (const j of joins) at(j.k).joins = number(j.n)
  }
  const sales = await db.rows<{ k: string; n: string }>(
    `SELECT ${k.sale} AS k, COUNT(*) AS n FROM sale s WHERE s.affiliate_id IS NOT NULL${window("s.at", b)}${only("s")} GROUP BY 1`,
    values,
  )
  for (const s of sales) at(s.k).sales = number(s.n)
  // A story is its first order and those that followed it.
  const paid = await db.rows<{ k: string; currency: string; net: string; back: string }>(
    `SELECT k, currency, SUM(net) AS net, SUM(back) AS back FROM (
       SELECT ${k.sale} AS k, c.currency, c.net, ROUND(c.net * c.refunded / GREATEST(c.gross, 1)) AS back FROM sale s JOIN charge c ON c.order_id = s.order_id AND c.state = 'succeeded'
       WHERE s.affiliate_id IS NOT NULL${window("s.at", b)}${only("s")}
       UNION ALL
       SELECT ${k.sale}, c.currency, c.net, ROUND(c.net * c.refunded / GREATEST(c.gross, 1)) FROM sale s JOIN orders o ON o.first_id = s.order_id JOIN charge c ON c.order_id = o.id AND c.state = 'succeeded'
       WHERE s.affiliate_id IS NOT NULL${window("s.at", b)}${only("s")}
     ) x GROUP BY k, currency`,
    [...values, ...values],
  )
  for (const p of paid) money(p.k, p.currency, { net: number(p.net), back: number(p.back) })
  const commission = await db.rows<{ k: string; currency: string; n: string }>(
    `SELECT ${k.sale} AS k, c.currency, SUM(c.amount) AS n FROM sale s JOIN commission c ON c.order_id = s.order_id
     WHERE s.affiliate_id IS NOT NULL AND c.kind <> 'written-off'${window("s.at", b)}${only("s")} GROUP BY 1, 2`,
    values,
  )
  for (const c of commission) money(c.k, c.currency, { commission: number(c.n) })
  return new Map([...map].map(([key, x]) => [key, { ...x, money: [...x.money.values()] }]))
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
  return rows.map((r) => ({ ...r, what: r.what ?? "", gross: Number(r.gross), commission: number(r.commission) }))
}
