// Balances of the journal at an instant.
import { type Account, accounts } from "@/core/ledger/journal"
import { type Db, number } from "../db/pool"

export type Balance = {
  readonly account: Account
  readonly currency: string
  /** Debit where positive, credit where negative; minor units. */
  readonly amount: number
}

/** What every account had come to before an instant (ms), in the order of the accounts. */
export async function balanceAt(db: Db, before: number): Promise<Balance[]> {
  const rows = await db.rows<{ account: Account; currency: string; amount: string }>(
    "SELECT account, currency, SUM(amount) AS amount FROM journal WHERE at < ? GROUP BY account, currency",
    [new Date(before)],
  )
  const order = Object.keys(accounts)
  return rows
    .map((r) => ({ ...r, amount: number(r.amount) }))
    .sort((a, b) => order.indexOf(a.account) - order.indexOf(b.account))
}
