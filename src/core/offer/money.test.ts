import { code as isoCode, codes as isoCodes } from "currency-codes"
import Decimal from "decimal.js"
import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { currencies, decimalOf, digitsOf, moneyText, mostMoney, parseAmount, portion, shares } from "./money"
import { rateText, taxed } from "./tax"

const amount = fc.integer({ min: 0, max: mostMoney })
const rate = fc.integer({ min: 0, max: 10_000 })

describe("digits of a currency", () => {
  // ISO 4217 list one, as the package currency-codes carries it. It says "no digits" (N.A.) as 0 for metals and funds.
  const funds = ["XAG", "XAU", "XBA", "XBB", "XBC", "XBD", "XDR", "XPD", "XPT", "XSU", "XTS", "XUA", "XXX", "XAD"]
  it.each(isoCodes().filter((c) => !funds.includes(c)))("%s has those of ISO 4217", (c) => {
    expect(digitsOf(c)).toBe(isoCode(c)!.digits)
  })
  it("sells only in currencies that the standard has", () => {
    for (const c of currencies) expect(isoCode(c)?.code).toBe(c)
  })
})

describe("typed amounts", () => {
  it.each([
    ["90", "EUR", 9000],
    ["90.5", "EUR", 9050],
    ["90,50", "EUR", 9050],
    [" 1234.50 ", "EUR", 123450],
    ["1,234.50", "EUR", 123450],
    ["1.234,50", "EUR", 123450],
    ["1 234,50", "EUR", 123450],
    ["1\u202F234,50", "EUR", 123450],
    ["1'234.50", "CHF", 123450],
    ["12,345,678", "EUR", 1234567800],
    ["0", "EUR", 0],
    ["500", "JPY", 500],
    ["1.25", "KWD", 1250],
    ["99999999.99", "EUR", mostMoney],
    // Refused: it could mean two things, has too many digits, is too much, or is no amount.
    ["1.234", "KWD", 1234], // as decimalOf writes it
    ["1,234", "KWD", null],
    ["1,234", "EUR", null],
    ["90.505", "EUR", null],
    ["90.5", "JPY", null],
    ["100000000", "EUR", null],
    ["999999999999999999", "EUR", null],
    ["-5", "EUR", null],
    ["+5", "EUR", null],
    ["", "EUR", null],
    [".5", "EUR", null],
    ["5.", "EUR", null],
    ["1e3", "EUR", null],
    ["€ 5", "EUR", null],
    ["1,23,456", "EUR", null],
    ["١٢", "EUR", null],
    ["NaN", "EUR", null],
  ])("%j in %s is %j", (typed, currency, minor) => {
    expect(parseAmount(typed, currency)).toBe(minor)
  })
  it("reads back what it writes", () => {
    fc.assert(
      fc.property(amount, fc.constantFrom(...currencies), (m, c) => {
        const text = decimalOf(m, c)
        // Three digits after the point are refused as ambiguous; nobody is asked for fils to the last digit here.
        if (digitsOf(c) !== 3) expect(parseAmount(text, c)).toBe(m <= mostMoney ? m : null)
        expect(new Decimal(text).times(new Decimal(10).pow(digitsOf(c))).eq(m)).toBe(true)
      }),
    )
  })
  it.each([
    [123450, "EUR", "€1,234.50"],
    [5, "EUR", "€0.05"],
    [-5, "EUR", "-€0.05"],
    [500, "JPY", "JP¥500"],
    [1250, "KWD", "KWD 1.250"],
    [9_999_999_999, "EUR", "€99,999,999.99"],
  ])("%i of %s reads %s", (minor, currency, text) => {
    expect(moneyText(minor, currency).replace(/\u00A0/g, " ")).toBe(text)
  })
})

describe("shares", () => {
  it("add up, lie within one unit of the exact share, and follow the weights", () => {
    fc.assert(
      fc.property(amount, fc.array(fc.integer({ min: 0, max: 1_000_000 }), { minLength: 1, maxLength: 12 }), (a, w) => {
        const parts = shares(a, w)
        expect(parts.reduce((s, p) => s + p, 0)).toBe(a)
        const total = w.reduce((s, x) => s + x, 0)
        if (total === 0) return
        parts.forEach((p, i) => {
          const exact = new Decimal(a).times(w[i]!).div(total)
          expect(exact.minus(p).abs().lt(1)).toBe(true)
        })
        for (let i = 0; i < w.length; i++)
          for (let j = 0; j < w.length; j++) if (w[i]! > w[j]!) expect(parts[i]!).toBeGreaterThanOrEqual(parts[j]!)
      }),
    )
  })
  // Largest remainder: the worked example of apportionment with quotas 4.7, 1.6, 1.58, 1.2, 0.6, 0.32 of 10 seats
  // (votes 47 000, 16 000, 15 800, 12 000, 6 100, 3 100), a textbook table, from memory.
  it("gives a textbook's seats", () => {
    expect(shares(10, [47_000, 16_000, 15_800, 12_000, 6_100, 3_100])).toEqual([5, 2, 1, 1, 1, 0])
  })
  it.each([
    [100, [1, 1, 1], [34, 33, 33]],
    [1, [0, 1, 1], [0, 1, 0]],
    [7, [0, 0], [7, 0]],
  ])("%i by %j is %j", (a, w, parts) => {
    expect(shares(a, w)).toEqual(parts)
  })
})

describe("percentages and tax, against a decimal library", () => {
  it("rounds a part half up", () => {
    fc.assert(
      fc.property(amount, rate, (a, r) => {
        expect(portion(a, r)).toBe(
          new Decimal(a).times(r).div(10_000).toDecimalPlaces(0, Decimal.ROUND_HALF_UP).toNumber(),
        )
      }),
    )
  })
  it("net and tax are the gross, included or not", () => {
    fc.assert(
      fc.property(amount, rate, fc.boolean(), (a, r, included) => {
        const t = taxed(a, { rate: r, included })
        expect(t.net + t.tax).toBe(t.gross)
        expect(included ? t.gross : t.net).toBe(a)
        const exact = included ? new Decimal(a).times(r).div(10_000 + r) : new Decimal(a).times(r).div(10_000)
        expect(t.tax).toBe(exact.toDecimalPlaces(0, Decimal.ROUND_HALF_UP).toNumber())
      }),
    )
  })
  // 119 at 19 % included is 100 and 19; 100 at 19 % on top is 119: common practice.
  it.each([
    [11_900, true, { net: 10_000, tax: 1_900, gross: 11_900 }],
    [10_000, false, { net: 10_000, tax: 1_900, gross: 11_900 }],
    [1, true, { net: 1, tax: 0, gross: 1 }],
    [0, false, { net: 0, tax: 0, gross: 0 }],
  ])("%i at 19 %%, included: %j", (a, included, expected) => {
    expect(taxed(a, { rate: 1900, included })).toEqual(expected)
  })
  it.each([
    [1900, "19 %"],
    [825, "8.25 %"],
    [2550, "25.5 %"],
    [0, "0 %"],
  ])("%i basis points read %s", (r, text) => {
    expect(rateText(r)).toBe(text)
  })
})
