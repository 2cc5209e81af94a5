// Tax on an amount: one rate for the school, on prices that have it inside or come without.
import { type BasisPoints, type Minor, portion } from "./money"

export type TaxRule = {
  /** 0 to 10 000. */
  readonly rate: BasisPoints
  /** Whether prices are said with the tax inside. */
  readonly included: boolean
}

export type Taxed = { readonly net: Minor; readonly tax: Minor; readonly gross: Minor }

/** Net, tax and gross of a price after its discount; net + tax is gross, always. Tax is rounded half up, once for each amount charged. */
export function taxed(price: Minor, rule: TaxRule): Taxed {
  if (!rule.included) {
    const tax = portion(price, rule.rate)
    return { net: price, tax, gross: price + tax }
  }
  const whole = BigInt(10_000 + rule.rate)
  const tax = Number((BigInt(price) * BigInt(rule.rate) * 2n + whole) / (2n * whole))
  return { net: price - tax, tax, gross: price }
}

/** The rate in words: "19 %", "8.25 %". */
export function rateText(rate: BasisPoints): string {
  return `${Number((rate / 100).toFixed(2))} %`
}
