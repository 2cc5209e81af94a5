// What is known of money in a funnel: what sales at each step brought by month, what their plans are, and which shares go to others.
import { soldAt } from "@/core/funnel/step/list"
import type { Account } from "@/core/ledger/journal"
import { daysOfMonth, type MoneyShares, monthsAhead, plannedCharges, type SaleCash } from "@/core/numbers/cash"
import type { CashKnown } from "@/core/numbers/forecast"
import { planOf } from "@/core/offer/plan"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { loadFunnel } from "../funnel/load"
import { type Balance, balanceAt } from "../ledger/balance"
import { sellingRules } from "../offer/offer"
import { shelfOf } from "../offer/quote"

/** Where nothing is known: common practice, from memory. */
const usual: MoneyShares = { later: 0.95, refunds: 0.05, fees: 0.03, commissions: 0 }

/** By now. Money is the school's currency. */
export async function cashKnown(s: Context, funnel: number): Promise<CashKnown> {
  const now = await s.clock.now()
  const { currency, tax, zone } = await sellingRules(s.db)
  const [found, shelf] = [await loadFunnel(s.db, funnel), await shelfOf(s.db)]
  const seen = await seenOf(s.db, funnel, now, currency)
  const sales = new Map(
    (found?.steps ?? []).map((step): [number, SaleCash] => {
      const sold = soldAt(step)
      const offer = sold?.offer ? shelf.offers.get(sold.offer) : undefined
      const terms = offer?.terms.find((t) => t.id === sold?.terms) ?? offer?.terms[0]
      const planned =
        offer && terms && offer.currency === currency
          ? plannedCharges(planOf(terms.terms, { currency, tax, zone, start: now }))
          : []
      return [step.id, { seen: seen.get(step.id) ?? [], planned }]
    }),
  )
  return { sales, shares: await sharesSeen(s.db, now, currency) }
}

/** Orders that are looked at, about. */
const looked = 3_000

/** By step: what orders that were made there brought in each month after it, of those that are old enough for all of that month. */
async function seenOf(db: Db, funnel: number, now: number, currency: string): Promise<Map<number, SaleCash["seen"]>> {
  const all = await db.row<{ n: number }>("SELECT COUNT(*) AS n FROM orders WHERE funnel_id = ? AND made_at <= ?", [
    funnel,
    new Date(now),
  ])
  // Of very many, one in so many is looked at: means don't ask for more.
  const each = Math.max(1, Math.ceil((all?.n ?? 0) / looked))
  const sold = `o.funnel_id = ? AND o.state IN ('paid', 'refunded') AND o.test = 0 AND o.currency = ? AND o.made_at <= ? AND o.id MOD ${each} = 0`
  const values = [funnel, currency, new Date(now)]
  const month = `${daysOfMonth * 86_400}`
  const old = await db.rows<{ step: number; age: number; n: number }>(
    `SELECT o.step_id AS step, FLOOR(TIMESTAMPDIFF(SECOND, o.made_at, ?) / ${month}) AS age, COUNT(*) AS n FROM orders o WHERE ${sold} GROUP BY 1, 2`,
    [new Date(now), ...values],
  )
  const kept = await db.rows<{ step: number; month: number; kept: number }>(
    `SELECT o.step_id AS step, FLOOR(GREATEST(0, TIMESTAMPDIFF(SECOND, o.made_at, l.at)) / ${month}) AS month, -SUM(l.amount) AS kept
     FROM orders o JOIN charge c ON c.order_id = o.id JOIN journal l ON l.charge_id = c.id
     WHERE ${sold} AND l.account IN ('income', 'refunds', 'fees', 'commission') AND l.at <= ?
       AND (FLOOR(GREATEST(0, TIMESTAMPDIFF(SECOND, o.made_at, l.at)) / ${month}) + 1) * ${month} <= TIMESTAMPDIFF(SECOND, o.made_at, ?) GROUP BY 1, 2`,
    [...values, new Date(now), new Date(now)],
  )
  return new Map(
    [...new Set(old.map((o) => o.step))].map((step) => [
      step,
      Array.from({ length: monthsAhead }, (_, k) => {
        const of = old.filter((o) => o.step === step && o.age > k).reduce((n, o) => n + o.n, 0)
        const sum = kept.find((m) => m.step === step && m.month === k)?.kept ?? 0
        return { kept: of > 0 ? sum / of : 0, of }
      }),
    ]),
  )
}

const year = 365 * 86_400_000

/** Which shares of money went where in the last year; who paid each later charge, of all plans. */
async function sharesSeen(db: Db, now: number, currency: string): Promise<MoneyShares> {
  const [then, by] = [await balanceAt(db, now - year), await balanceAt(db, now + 1)]
  const sum = (balances: readonly Balance[], account: Account) =>
    balances.find((b) => b.account === account && b.currency === currency)?.amount ?? 0
  const of = (account: Account) => sum(by, account) - sum(then, account)
  const income = -of("income")
  const plans = await db.row<{ came: number; ended: number }>(
    `SELECT (SELECT COUNT(*) FROM charge WHERE n > 0 AND state = 'succeeded' AND at <= ?) AS came,
       (SELECT COUNT(*) FROM plan WHERE ended_at IS NOT NULL AND ended_at <= ? AND state = 'ended') AS ended`,
    [new Date(now), new Date(now)],
  )
  const { came = 0, ended = 0 } = plans ?? {}
  const share = (amount: number) => Math.max(0, Math.min(1, amount / income))
  return {
    later: came + ended >= 5 ? came / (came + ended) : usual.later,
    refunds: income > 0 ? share(of("refunds")) : usual.refunds,
    fees: income > 0 ? share(of("fees")) : usual.fees,
    commissions: income > 0 ? share(of("commission")) : usual.commissions,
  }
}

/** An offer that can be tried as a further one: what it is planned to bring. */
export type OfferTried = {
  readonly id: number
  readonly name: string
  readonly planned: SaleCash["planned"]
}

/** The offers of the school that bring money in its currency, by name. */
export async function offersToTry(s: Context): Promise<OfferTried[]> {
  const { currency, tax, zone } = await sellingRules(s.db)
  const start = await s.clock.now()
  const { offers } = await shelfOf(s.db)
  return [...offers.values()]
    .flatMap((o) => {
      const [terms] = o.terms
      if (!terms || o.currency !== currency) return []
      const planned = plannedCharges(planOf(terms.terms, { currency, tax, zone, start }))
      return planned.some((c) => c.net > 0) ? [{ id: o.id, name: o.internalName || o.publicName, planned }] : []
    })
    .sort((a, b) => a.name.localeCompare(b.name))
}
