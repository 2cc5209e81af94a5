// A payout: which of what is due is paid, and who can't be paid yet and why. What isn't paid stays due, also below zero, so
// nothing has to be carried: it is there for the next one.
import type { Minor } from "../offer/money"
import { type TaxRule, taxed } from "../offer/tax"

/** Why somebody isn't paid this time. */
export type Obstacle = "no-bank" | "not-approved" | "ended-nobody" | "conditions" | "under-least" | "owes" | "left-out"

export type Payee = {
  readonly affiliate: number
  readonly state: "invited" | "asked" | "active" | "ended"
  /** Whether there is anybody still: an affiliate who was erased can't be paid. */
  readonly known: boolean
  readonly iban: string
  /** Whether the conditions of each programme they take part in are those they agreed to. */
  readonly agreed: boolean
  /** Whether they have said that they are taxed for it. */
  readonly taxNumber: string
}

export type Sum = {
  readonly affiliate: number
  readonly currency: string
  readonly amount: Minor
  readonly lines: number
  /** How many more there are that were left out by hand: they are not in the amount. */
  readonly leftOut: number
}

export type PayoutRules = {
  /** Less than this is not paid out yet; minor units of any currency. */
  readonly least: Minor
}

/** What stands in the way of paying somebody a sum; the first that does, in the order in which they can be mended. */
export function obstacle(p: Payee, amount: Minor, rules: PayoutRules): Obstacle | null {
  if (!p.known) return "ended-nobody"
  if (p.state === "invited" || p.state === "asked") return "not-approved"
  if (amount <= 0) return "owes"
  if (!p.iban) return "no-bank"
  if (!p.agreed) return "conditions"
  // Whoever has ended gets what is left, however little.
  if (amount < rules.least && p.state !== "ended") return "under-least"
  return null
}

export type PayoutSplit = {
  readonly pay: readonly Sum[]
  readonly not: readonly (Sum & { readonly why: Obstacle })[]
}

export function split(sums: readonly Sum[], payees: ReadonlyMap<number, Payee>, rules: PayoutRules): PayoutSplit {
  const pay: Sum[] = []
  const not: (Sum & { why: Obstacle })[] = []
  for (const s of sums) {
    const payee = payees.get(s.affiliate)
    const why = !s.lines ? "left-out" : payee ? obstacle(payee, s.amount, rules) : "ended-nobody"
    if (why) not.push({ ...s, why })
    else pay.push(s)
  }
  return { pay, not }
}

/** What is paid for a commission: with the tax on top for whoever has a tax number, where the school pays it. */
export function withTax(net: Minor, tax: TaxRule | null, taxNumber: string): { net: Minor; tax: Minor; gross: Minor } {
  if (!tax || !taxNumber) return { net, tax: 0, gross: net }
  return taxed(net, { rate: tax.rate, included: false })
}

/** The next of these days of a month on or after a day; days that a month doesn't have are its last. All YYYY-MM-DD. */
export function nextPayDay(days: readonly number[], today: string): string {
  const [year, month] = today.split("-").map(Number) as [number, number]
  for (let ahead = 0; ahead < 3; ahead++) {
    const first = new Date(Date.UTC(year, month - 1 + ahead, 1))
    const last = new Date(Date.UTC(first.getUTCFullYear(), first.getUTCMonth() + 1, 0)).getUTCDate()
    for (const d of [...new Set(days.map((x) => Math.min(x, last)))].sort((a, b) => a - b)) {
      const day = new Date(Date.UTC(first.getUTCFullYear(), first.getUTCMonth(), d)).toISOString().slice(0, 10)
      if (day >= today) return day
    }
  }
  throw new RangeError("no day of a month")
}

/** The number of a credit note: CN-2026-0007. */
export const noteNumber = (prefix: string, year: number, n: number) => `${prefix}-${year}-${String(n).padStart(4, "0")}`
