// Sentences about affiliates: each case once, and what holds of any of them.
import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { type Attribution, attribute, type Judged, type MentionVerdict } from "./attribution"
import { usualTerms } from "./programme"
import { decisionText, ordinal, rateWords, ruleText, termsText, verdictText } from "./words"

const day = 86_400_000
const at = Date.parse("2026-05-15T12:00:00Z")
const names: Record<number, string> = { 1: "Ada", 2: "Ben", 3: "Cleo", 4: "Dot", 5: "Eva" }
const name = (id: number) => names[id] ?? "somebody"
const link = (affiliate: number, verdict: MentionVerdict, ago = 12, sub = ""): Judged => ({
  affiliate,
  kind: "link",
  at: at - ago * day,
  sub,
  verdict,
})
const says = (chain: Judged[]) =>
  decisionText({ at, rule: { days: 30, which: "last" }, chain } as Attribution, name, "Europe/Oslo")

describe("why a sale counted", () => {
  it("is said with the day of the link, how long before, and where it was given out", () => {
    expect(says([link(1, "counts", 12, "letter")])).toBe(
      "Counted for Ada: link on 3 May 2026, 12 days before, given out at “letter”.",
    )
    expect(says([link(1, "counts", 1)])).toBe("Counted for Ada: link on 14 May 2026, 1 day before.")
    expect(says([link(1, "counts", 0)])).toBe("Counted for Ada: link on 15 May 2026, on the same day.")
    expect(says([{ ...link(2, "counts"), kind: "coupon" }])).toBe("Counted for Ben: their coupon was used.")
    expect(says([])).toBe("Nobody recommended it.")
  })

  it("says of everybody else why not, the latest first, and no more than three", () => {
    const others: [MentionVerdict, string][] = [
      ["older", "was older than 30 days."],
      ["earlier", "came before it, and the last one counts."],
      ["later", "came after it, and the first one counts."],
      ["coupon-first", "gives way to the coupon."],
      ["after", "came only afterwards."],
      ["own", "was their own purchase."],
      ["not-in", "is left out: Ben does not take part in this programme."],
      ["ended", "is left out: Ben was no affiliate then."],
      ["programme-off", "is left out: the programme was off."],
    ]
    for (const [verdict, end] of others)
      expect(says([link(2, verdict, 20), link(1, "counts")])).toBe(
        `Counted for Ada: link on 3 May 2026, 12 days before. The link of Ben on 25 April 2026 ${end}`,
      )
    expect(says([link(2, "own")])).toBe("Counted for nobody. The link of Ben on 3 May 2026 was their own purchase.")
    const many = says([
      link(2, "older", 50),
      link(3, "older", 45),
      link(4, "older", 40),
      link(5, "older", 35),
      link(1, "counts"),
    ])
    expect(many).not.toContain("Ben")
    expect(many.indexOf("Eva")).toBeLessThan(many.indexOf("Dot"))
    // An affiliate's own earlier links are no news beside the one that counts.
    expect(says([link(1, "earlier", 20), link(1, "counts")])).toBe(
      "Counted for Ada: link on 3 May 2026, 12 days before.",
    )
  })

  it("is whole sentences for any chain, and names nobody who wasn't mentioned", () => {
    const mention = fc.record({
      affiliate: fc.integer({ min: 1, max: 5 }),
      kind: fc.constantFrom("link" as const, "coupon" as const),
      at: fc.integer({ min: at - 60 * day, max: at + day }),
      sub: fc.constantFrom("", "letter"),
    })
    const bar = fc.constantFrom(null, "own" as const, "not-in" as const, "ended" as const, "programme-off" as const)
    fc.assert(
      fc.property(
        fc.array(mention, { maxLength: 12 }),
        fc.integer({ min: 1, max: 90 }),
        fc.constantFrom("last" as const, "first" as const),
        fc.array(bar, { minLength: 5, maxLength: 5 }),
        (chain, days, which, bars) => {
          const d = attribute(chain, { days, which }, at, (a) => bars[a - 1]!)
          const text = decisionText(d, name, "UTC")
          expect(text).toMatch(/^(Counted for |Nobody recommended it\.)/)
          expect(text).toMatch(/\.$/)
          expect(text).not.toMatch(/ {2}|\.\.|undefined|NaN|somebody|-\d/)
          for (const [id, called] of Object.entries(names))
            if (!chain.some((m) => m.affiliate === Number(id))) expect(text).not.toContain(called)
          for (const m of d.chain) expect(verdictText(m, d.rule)).toMatch(/^[a-z][^.]+$/)
        },
      ),
      { seed: 3 },
    )
  })

  it("says the rule in one sentence", () => {
    expect(ruleText({ days: 30, which: "last" })).toBe(
      "The last link within 30 days counts, and a coupon before any link.",
    )
    expect(ruleText({ days: 1, which: "first" })).toBe(
      "The first link within 1 day counts, and a coupon before any link.",
    )
  })
})

describe("what a programme pays", () => {
  it("is said as one reads it", () => {
    expect(termsText({ ...usualTerms, bumps: false, further: false }, null, "EUR")).toBe(
      "30 % of what was paid, without tax, with every charge.",
    )
    expect(termsText(usualTerms, { kind: "percent", value: 4050 }, "EUR")).toBe(
      "40.5 % of what was paid, without tax, with every charge, also on order bumps and upsells of the same order.",
    )
    expect(termsText({ ...usualTerms, further: false, charges: 1, lessFees: true }, null, "EUR")).toBe(
      "30 % of what was paid, without tax and the card processor's fee, on the first charge, also on order bumps of the same order.",
    )
    // An amount is paid for the sale, not once more for what came along with it.
    expect(termsText({ ...usualTerms, rate: { kind: "amount", value: 4_000 }, charges: 3 }, null, "EUR")).toBe(
      "€40.00 for each sale, on the first 3 charges.",
    )
  })

  it("names the steps that bring more than the rate, and no others", () => {
    const steps = [
      { from: 11, rate: 4000 },
      { from: 22, rate: 4500 },
    ]
    const plain = { ...usualTerms, bumps: false, further: false, steps }
    expect(termsText(plain, null, "EUR")).toContain(
      " 40 % from the 11th sale of a month, 45 % from the 22nd sale of a month.",
    )
    expect(termsText(plain, { kind: "percent", value: 4200 }, "EUR")).not.toContain("11th")
    expect(termsText(plain, { kind: "percent", value: 5000 }, "EUR")).not.toContain("sale of a month")
  })

  it("has rates in the currency of the offer", () => {
    expect(rateWords({ kind: "percent", value: 3333 }, "EUR")).toBe("33.33 %")
    expect(rateWords({ kind: "amount", value: 1_500 }, "JPY")).toBe("JP¥1,500")
  })
})

it("ordinals are those of the Unicode plural rules for English", () => {
  const rules = new Intl.PluralRules("en", { type: "ordinal" })
  const tails = { one: "st", two: "nd", few: "rd", other: "th", zero: "th", many: "th" }
  for (let n = 1; n <= 1_200; n++) expect(ordinal(n)).toBe(`${n}${tails[rules.select(n)]}`)
})
