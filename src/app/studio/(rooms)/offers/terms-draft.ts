// Terms as somebody types them: amounts and numbers are text until they are understood.
import { decimalOf, parseAmount } from "@/core/offer/money"
import type { Terms } from "@/core/offer/terms"

export type TermsDraft = {
  /** Tells one way to pay from another in the form. */
  readonly key: string
  readonly id: number | null
  readonly name: string
  readonly kind: Terms["kind"]
  readonly amount: string
  readonly upFront: string
  readonly times: string
  readonly everyCount: string
  readonly everyUnit: "week" | "month" | "year"
  readonly endless: boolean
  readonly trialUnit: "none" | "day" | "month"
  readonly trialLength: string
  readonly trialAmount: string
}

export const blankTerms = (key: string, kind: Terms["kind"]): TermsDraft => ({
  key,
  id: null,
  name: "",
  kind,
  amount: "",
  upFront: "",
  times: kind === "instalments" ? "4" : "12",
  everyCount: "1",
  everyUnit: "month",
  endless: true,
  trialUnit: "none",
  trialLength: "14",
  trialAmount: "",
})

export function draftOf(t: { id: number; name: string; terms: Terms }, currency: string): TermsDraft {
  const { terms } = t
  const blank = { ...blankTerms(`t${t.id}`, terms.kind), id: t.id, name: t.name }
  const said = (minor: number) => (minor ? decimalOf(minor, currency) : "")
  if (terms.kind === "free") return blank
  if (terms.kind === "full") return { ...blank, amount: said(terms.amount) }
  const rhythm = { everyCount: String(terms.every.count), everyUnit: terms.every.unit }
  const base = { ...blank, ...rhythm, amount: said(terms.amount), upFront: said(terms.upFront) }
  if (terms.kind === "instalments") return { ...base, times: String(terms.times) }
  return {
    ...base,
    endless: terms.times === null,
    times: String(terms.times ?? 12),
    trialUnit: terms.trial?.unit ?? "none",
    trialLength: String(terms.trial?.length ?? 14),
    trialAmount: said(terms.trial?.amount ?? 0),
  }
}

export type Understood =
  | { readonly terms: Terms }
  | {
      readonly field: "amount" | "upFront" | "times" | "everyCount" | "trialLength" | "trialAmount"
      readonly says: string
    }

/** What was typed, understood; or the first field that isn't, and what is wrong with it. */
export function termsOf(d: TermsDraft, currency: string): Understood {
  if (d.kind === "free") return { terms: { kind: "free" } }
  const money = (text: string) => (text.trim() === "" ? 0 : parseAmount(text, currency))
  const amount = money(d.amount)
  if (amount === null) return { field: "amount", says: `An amount in ${currency}, like ${decimalOf(29000, currency)}.` }
  if (amount === 0) return { field: "amount", says: "How much? Nothing is what “free” is for." }
  if (d.kind === "full") return { terms: { kind: "full", amount } }
  const upFront = money(d.upFront)
  if (upFront === null) return { field: "upFront", says: "An amount, or nothing at all." }
  const whole = (text: string, most: number) => {
    const n = Number(text)
    return /^\d{1,4}$/.test(text.trim()) && n >= 1 && n <= most ? n : null
  }
  const count = whole(d.everyCount, 24)
  if (count === null) return { field: "everyCount", says: "A whole number from 1 to 24." }
  const every = { unit: d.everyUnit, count }
  if (d.kind === "instalments") {
    const times = whole(d.times, 120)
    if (times === null) return { field: "times", says: "A whole number from 1 to 120." }
    return { terms: { kind: "instalments", upFront, amount, times, every } }
  }
  const times = d.endless ? null : whole(d.times, 600)
  if (times === null && !d.endless) return { field: "times", says: "A whole number from 1 to 600." }
  if (d.trialUnit === "none") return { terms: { kind: "subscription", upFront, trial: null, amount, every, times } }
  const length = whole(d.trialLength, 366)
  if (length === null) return { field: "trialLength", says: "A whole number from 1 to 366." }
  const paid = money(d.trialAmount)
  if (paid === null) return { field: "trialAmount", says: "An amount, or nothing for a free trial." }
  return {
    terms: { kind: "subscription", upFront, trial: { length, unit: d.trialUnit, amount: paid }, amount, every, times },
  }
}
