// Money: a whole number of a currency's smallest unit. Nothing here, and nothing that works with it, is a fraction.
import { locale } from "../words/locale"

/** Whole minor units: cents of euros, yen, fils. Safe integers only. */
export type Minor = number

/** Digits after the point by ISO 4217, where they are not two. */
const otherDigits: Readonly<Record<string, number>> = {
  ...Object.fromEntries(
    "BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX UYI VND VUV XAF XOF XPF".split(" ").map((code) => [code, 0]),
  ),
  ...Object.fromEntries("BHD IQD JOD KWD LYD OMR TND".split(" ").map((code) => [code, 3])),
  CLF: 4,
  UYW: 4,
}

/** What a school can sell in. */
export const currencies = [
  "EUR",
  "USD",
  "GBP",
  "CHF",
  "NOK",
  "SEK",
  "DKK",
  "ISK",
  "PLN",
  "CZK",
  "HUF",
  "RON",
  "BGN",
  "TRY",
  "AUD",
  "NZD",
  "CAD",
  "JPY",
  "KRW",
  "SGD",
  "HKD",
  "INR",
  "BRL",
  "MXN",
  "ZAR",
  "KWD",
  "TND",
] as const
export type Currency = (typeof currencies)[number]

export function isCurrency(code: string): code is Currency {
  return (currencies as readonly string[]).includes(code)
}

/** How many digits stand after the point, by ISO 4217. */
export function digitsOf(currency: string): number {
  return otherDigits[currency] ?? 2
}

/** The most a price may be, in minor units: a hundred million euros. Sums of many stay safe integers. */
export const mostMoney: Minor = 9_999_999_999

/**
 * Reads an amount as somebody types it: digits, at most one point or comma before the minor digits, thousands set apart
 * by spaces, apostrophes or the other mark. Gives null for anything else: a sign, too many digits, more than mostMoney,
 * or "1,234", which could mean two things. Whatever decimalOf writes is read back.
 */
export function parseAmount(typed: string, currency: string): Minor | null {
  const digits = digitsOf(currency)
  const text = typed.trim().replace(/(?<=\d)[\s'’\u00A0\u202F](?=\d{3}(?!\d))/g, "")
  const plain = /^(\d{1,12})(?:[.,](\d+))?$/.exec(text)
  const grouped = plain ? null : /^(\d{1,3}(?:([.,])\d{3})(?:\2\d{3})*)(?:(?!\2)[.,](\d+))?$/.exec(text)
  const whole = (plain?.[1] ?? grouped?.[1])?.replace(/[.,]/g, "")
  const after = (plain ? plain[2] : grouped?.[3]) ?? ""
  if (whole === undefined || after.length > digits) return null
  // "1,234" reads as a thousand to some and as a fraction to others; with a point, where a currency has three digits, it
  // is how decimalOf writes it.
  if (plain && after.length === 3 && text.includes(",")) return null
  const minor = Number(whole + after.padEnd(digits, "0"))
  return minor <= mostMoney ? minor : null
}

/** The amount as a decimal number in text, without its currency: "1234.50". For fields and files. */
export function decimalOf(minor: Minor, currency: string): string {
  const digits = digitsOf(currency)
  const text = String(Math.abs(minor)).padStart(digits + 1, "0")
  const sign = minor < 0 ? "-" : ""
  return digits === 0 ? sign + text : `${sign}${text.slice(0, -digits)}.${text.slice(-digits)}`
}

const formats = new Map<string, Intl.NumberFormat>()

/** The amount as people read it: "€1,234.50". */
export function moneyText(minor: Minor, currency: string): string {
  let format = formats.get(currency)
  if (!format) {
    const digits = digitsOf(currency)
    format = new Intl.NumberFormat(locale, {
      style: "currency",
      currency,
      minimumFractionDigits: digits,
      maximumFractionDigits: digits,
    })
    formats.set(currency, format)
  }
  // As text: a number formatted from its decimal digits goes through no binary fraction.
  return format.format(decimalOf(minor, currency) as unknown as number)
}

/** The amount where it is seen before it is read: whole ones without cents, "€290". */
export function moneyShort(minor: Minor, currency: string): string {
  const digits = digitsOf(currency)
  const text = moneyText(minor, currency)
  return digits && minor % 10 ** digits === 0 ? text.replace(new RegExp(`[.,]0{${digits}}(?!.*\\d)`), "") : text
}

/** For a drawing, where cents would only crowd: "€1,235". Rounded half up to whole units. */
export function moneyRound(minor: Minor, currency: string): string {
  const unit = 10 ** digitsOf(currency)
  const whole = new Intl.NumberFormat(locale, { style: "currency", currency, maximumFractionDigits: 0 })
  return whole.format(Math.round(minor / unit))
}

/** Hundredths of a percent: 19 % is 1900. */
export type BasisPoints = number

/** This part of an amount (0 or more), rounded half up to a whole minor unit. */
export function portion(amount: Minor, part: BasisPoints): Minor {
  return Number((BigInt(amount) * BigInt(part) * 2n + 10_000n) / 20_000n)
}

/**
 * An amount (0 or more) in shares that follow the weights and add up to it exactly, by largest remainder (Hamilton's
 * method); of equal remainders the first is served first. With no weight at all, everything goes to the first.
 */
export function shares(amount: Minor, weights: readonly number[]): Minor[] {
  const total = weights.reduce((sum, w) => sum + BigInt(w), 0n)
  if (total === 0n) return weights.map((_, i) => (i === 0 ? amount : 0))
  const exact = weights.map((w) => BigInt(amount) * BigInt(w))
  const given = exact.map((e) => Number(e / total))
  let rest = amount - given.reduce((sum, g) => sum + g, 0)
  const order = exact
    .map((e, i) => ({ i, remainder: e % total }))
    .sort((a, b) => (a.remainder === b.remainder ? a.i - b.i : a.remainder > b.remainder ? -1 : 1))
  for (const { i } of order) {
    if (rest === 0) break
    given[i]!++
    rest--
  }
  return given
}
