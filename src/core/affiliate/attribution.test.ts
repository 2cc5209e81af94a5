import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { type AttributionRule, attribute, type Bar, longestChain, type Mention, mentionCounts } from "./attribution"
import { decisionText, ruleText, verdictText } from "./words"

const day = 86_400_000
const sale = Date.parse("2026-05-15T10:00:00Z")
const link = (affiliate: number, daysBefore: number, sub = ""): Mention => ({
  affiliate,
  kind: "link",
  at: sale - daysBefore * day,
  sub,
})
const coupon = (affiliate: number): Mention => ({ affiliate, kind: "coupon", at: sale, sub: "" })
const last: AttributionRule = { days: 30, which: "last" }
const first: AttributionRule = { days: 30, which: "first" }
const open = () => null

describe("whose mention counts", () => {
  // A decision table: rule, mentions (affiliate, days before the sale), who is barred, who counts, and what became of each,
  // oldest first. Last mention, thirty days and coupon before link are common practice.
  it.each([
    ["nobody mentioned", last, [], {}, null, ""],
    ["one link", last, [link(1, 3)], {}, 1, "counts"],
    ["exactly thirty days", last, [link(1, 30)], {}, 1, "counts"],
    ["a moment more than thirty days", last, [{ ...link(1, 30), at: sale - 30 * day - 1 }], {}, null, "older"],
    ["the last of two", last, [link(1, 9), link(2, 3)], {}, 2, "earlier counts"],
    ["the first of two", first, [link(1, 9), link(2, 3)], {}, 1, "counts later"],
    ["the first within the window", first, [link(1, 31), link(2, 3)], {}, 2, "older counts"],
    ["a coupon before a later link", last, [link(1, 1), coupon(2)], {}, 2, "coupon-first counts"],
    ["a coupon before the first link", first, [link(1, 20), coupon(2)], {}, 2, "coupon-first counts"],
    ["their own purchase", last, [link(1, 1)], { 1: "own" }, null, "own"],
    ["their own, and somebody before", last, [link(2, 5), link(1, 1)], { 1: "own" }, 2, "counts own"],
    ["their own coupon, and somebody's link", last, [link(2, 5), coupon(1)], { 1: "own" }, 2, "counts own"],
    ["not in this programme", last, [link(1, 1)], { 1: "not-in" }, null, "not-in"],
    ["no affiliate then", last, [link(2, 9), link(1, 1)], { 1: "ended" }, 2, "counts ended"],
    ["the programme was off", last, [link(1, 1)], { 1: "programme-off" }, null, "programme-off"],
    ["after the purchase", last, [link(1, 3), link(2, -1)], {}, 1, "counts after"],
    [
      "ten of the same",
      last,
      Array.from({ length: 10 }, (_, i) => link(1, 10 - i)),
      {},
      1,
      "earlier earlier earlier earlier earlier earlier earlier earlier earlier counts",
    ],
  ] as [string, AttributionRule, Mention[], Record<number, Bar>, number | null, string][])(
    "%s",
    (_, rule, mentions, bars, who, verdicts) => {
      const d = attribute(mentions, rule, sale, (a) => bars[a] ?? null)
      expect(mentionCounts(d)?.affiliate ?? null).toBe(who)
      expect(d.chain.map((m) => m.verdict).join(" ")).toBe(verdicts)
    },
  )

  const mention = fc.record({
    affiliate: fc.integer({ min: 1, max: 4 }),
    kind: fc.constantFrom("link" as const, "coupon" as const),
    at: fc.integer({ min: -60, max: 2 }).map((d) => sale + d * day),
    sub: fc.constantFrom("", "a", "b"),
  })
  const mentions = fc.array(mention, { maxLength: 12 })

  it("is never changed by an older mention, under last", () => {
    fc.assert(
      fc.property(mentions, mention, (all, added) => {
        const before = mentionCounts(attribute(all, last, sale, open))
        // Older than any that is there.
        const older: Mention = { ...added, kind: "link", at: Math.min(sale, ...all.map((m) => m.at)) - day }
        const after = mentionCounts(attribute([...all, older], last, sale, open))
        if (before) expect(after).toEqual(before)
      }),
    )
  })
  it("counts one at most, whatever the order in which they were put down", () => {
    fc.assert(
      fc.property(
        mentions,
        fc.constantFrom(last, first),
        fc.infiniteStream(fc.double({ min: 0, max: 1, noNaN: true })),
        (all, rule, random) => {
          const d = attribute(all, rule, sale, open)
          expect(d.chain.filter((m) => m.verdict === "counts").length).toBeLessThanOrEqual(1)
          const shuffled = all
            .map((m) => ({ m, r: random.next().value as number }))
            .sort((a, b) => a.r - b.r)
            .map((x) => x.m)
          expect(mentionCounts(attribute(shuffled, rule, sale, open))).toEqual(mentionCounts(d))
        },
      ),
    )
  })
  it("counts for nobody who is barred, and for somebody whenever anybody could be", () => {
    fc.assert(
      fc.property(mentions, fc.constantFrom(last, first), fc.integer({ min: 1, max: 4 }), (all, rule, barred) => {
        const d = attribute(all, rule, sale, (a) => (a === barred ? "own" : null))
        const wins = mentionCounts(d)
        expect(wins?.affiliate).not.toBe(barred)
        const could = all.some((m) => m.affiliate !== barred && m.at <= sale && sale - m.at <= rule.days * day)
        expect(wins !== null).toBe(could)
      }),
    )
  })
  it("keeps the latest hundred of a very long chain", () => {
    const d = attribute(
      Array.from({ length: 300 }, (_, i) => link(1, 29 - i / 20)),
      last,
      sale,
      open,
    )
    expect(d.chain).toHaveLength(longestChain)
    expect(d.chain.at(-1)!.verdict).toBe("counts")
  })
})

describe("a sale explains itself", () => {
  const name = (a: number) => ["", "Ada Fern", "Ben Low", "Cleo Reed"][a]!
  const said = (all: Mention[], rule = last, bars: Record<number, Bar> = {}) =>
    decisionText(
      attribute(all, rule, sale, (a) => bars[a] ?? null),
      name,
      "Europe/Oslo",
    )
  it.each([
    [[], last, {}, "Nobody recommended it."],
    [[link(1, 12)], last, {}, "Counted for Ada Fern: link on 3 May 2026, 12 days before."],
    [[link(1, 0.2)], last, {}, "Counted for Ada Fern: link on 15 May 2026, on the same day."],
    [
      [link(1, 12, "letter"), link(2, 44)],
      last,
      {},
      "Counted for Ada Fern: link on 3 May 2026, 12 days before, given out at “letter”. The link of Ben Low on 1 April 2026 was older than 30 days.",
    ],
    [
      [link(1, 12), coupon(2)],
      last,
      {},
      "Counted for Ben Low: their coupon was used. The link of Ada Fern on 3 May 2026 gives way to the coupon.",
    ],
    [
      [link(1, 12), link(2, 1)],
      last,
      { 2: "own" },
      "Counted for Ada Fern: link on 3 May 2026, 12 days before. The link of Ben Low on 14 May 2026 was their own purchase.",
    ],
    [[link(2, 40)], last, {}, "Counted for nobody. The link of Ben Low on 5 April 2026 was older than 30 days."],
    [
      [link(1, 12), link(2, 1)],
      first,
      {},
      "Counted for Ada Fern: link on 3 May 2026, 12 days before. The link of Ben Low on 14 May 2026 came after it, and the first one counts.",
    ],
  ] as [Mention[], AttributionRule, Record<number, Bar>, string][])("%#", (all, rule, bars, words) => {
    expect(said(all, rule, bars)).toBe(words)
  })
  it("says the rule, and a verdict, in a few words", () => {
    expect(ruleText(last)).toBe("The last link within 30 days counts, and a coupon before any link.")
    expect(verdictText({ ...link(1, 31), verdict: "older" }, last)).toBe("older than 30 days")
  })
})
