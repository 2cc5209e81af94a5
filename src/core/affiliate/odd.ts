// What is odd about what somebody brings: named with its numbers, for somebody to look at. Nothing follows from it by itself.

export type Brought = {
  readonly clicks: number
  readonly joins: number
  readonly sales: number
  /** Sales of which everything was given back. */
  readonly refunded: number
  /** How many of the sales came from the connection that most of them came from. */
  readonly fromOneConnection: number
  /** Days since the last click, or since they began; null: they haven't begun. */
  readonly quietDays: number | null
}

export type Odd =
  | { readonly kind: "clicks-only"; readonly clicks: number }
  | { readonly kind: "all-refunded"; readonly sales: number }
  | { readonly kind: "one-connection"; readonly sales: number; readonly of: number }
  | { readonly kind: "quiet"; readonly days: number }

/** So many clicks bring somebody who joins, as a rule of thumb; fewer may be chance. */
const manyClicks = 200
/** From how many sales on it is told that they are alike. */
const fewSales = 3
const quietAfter = 60

export function oddities(b: Brought): Odd[] {
  const list: Odd[] = []
  if (b.clicks >= manyClicks && b.joins === 0 && b.sales === 0) list.push({ kind: "clicks-only", clicks: b.clicks })
  if (b.sales >= 2 && b.refunded === b.sales) list.push({ kind: "all-refunded", sales: b.sales })
  if (b.sales >= fewSales && b.fromOneConnection >= fewSales && b.fromOneConnection * 2 > b.sales)
    list.push({ kind: "one-connection", sales: b.fromOneConnection, of: b.sales })
  if (b.quietDays !== null && b.quietDays >= quietAfter) list.push({ kind: "quiet", days: b.quietDays })
  return list
}
