// The journal: double-entry, append-only. A line is debit where positive and credit where negative; the lines of an
// entry sum to zero, so every story does. Double-entry bookkeeping as in any textbook, from memory.
import { type Minor, shares } from "../offer/money"
import type { Taxed } from "../offer/tax"

export const accounts = {
  cards: "Card processor",
  income: "Income",
  tax: "Tax owed",
  refunds: "Refunds",
  fees: "Fees of the card processor",
  commission: "Commission to affiliates",
  affiliates: "Owed to affiliates",
  bank: "Bank",
} as const

export type Account = keyof typeof accounts

export type JournalLine = { readonly account: Account; readonly amount: Minor }

/** Money came in by card, less what the processor kept of it. */
export function paymentLines(paid: Taxed, fee: Minor = 0): JournalLine[] {
  return balanced([
    { account: "cards", amount: paid.gross - fee },
    { account: "fees", amount: fee },
    { account: "income", amount: -paid.net },
    { account: "tax", amount: -paid.tax },
  ])
}

/**
 * Money went back: this much of a payment, after what was given back of it before. Net and tax go back in the payment's
 * own proportion, so that giving back everything in parts gives back exactly its tax.
 */
export function refundLines(paid: Taxed, before: Minor, amount: Minor): JournalLine[] {
  const taxBack = (back: Minor) => shares(back, [paid.net, paid.tax])[1]!
  const tax = taxBack(before + amount) - taxBack(before)
  return balanced([
    { account: "refunds", amount: amount - tax },
    { account: "tax", amount: tax },
    { account: "cards", amount: -amount },
  ])
}

/** Somebody who recommended has earned this; below zero, it was taken back. */
export function commissionLines(amount: Minor): JournalLine[] {
  return balanced([
    { account: "commission", amount },
    { account: "affiliates", amount: -amount },
  ])
}

function balanced(lines: JournalLine[]): JournalLine[] {
  const sum = lines.reduce((total, l) => total + l.amount, 0)
  if (sum !== 0) throw new Error(`an entry that is off by ${sum}`)
  return lines.filter((l) => l.amount !== 0)
}

/** How much of a payment can still go back; a refund beyond it is refused. */
export function refundable(paid: Minor, refunded: Minor): Minor {
  return Math.max(0, paid - refunded)
}
