import { describe, expect, it } from "vitest"
import type { Terms } from "@/core/offer/terms"
import { blankTerms, draftOf, type TermsDraft, termsOf } from "./terms-draft"

const month = { unit: "month", count: 1 } as const
const all: Terms[] = [
  { kind: "free" },
  { kind: "full", amount: 29_000 },
  { kind: "instalments", upFront: 0, amount: 7_900, times: 4, every: month },
  { kind: "instalments", upFront: 5_000, amount: 7_900, times: 3, every: { unit: "week", count: 2 } },
  { kind: "subscription", upFront: 0, trial: null, amount: 1_900, every: month, times: null },
  {
    kind: "subscription",
    upFront: 0,
    trial: { length: 14, unit: "day", amount: 0 },
    amount: 1_900,
    every: month,
    times: 12,
  },
  {
    kind: "subscription",
    upFront: 4_900,
    trial: { length: 1, unit: "month", amount: 100 },
    amount: 1_900,
    every: { unit: "year", count: 1 },
    times: null,
  },
]

describe("terms as somebody types them", () => {
  it.each(all)("come back as they were: %j", (terms) => {
    for (const currency of ["EUR", "JPY", "KWD"])
      expect(termsOf(draftOf({ id: 1, name: "", terms }, currency), currency)).toEqual({ terms })
  })
  it("say nothing for an amount of nothing", () => {
    const draft = draftOf({ id: 5, name: "Monthly", terms: all[4]! }, "EUR")
    expect(draft).toMatchObject({
      id: 5,
      name: "Monthly",
      amount: "19.00",
      upFront: "",
      trialUnit: "none",
      endless: true,
    })
  })
  const typed = (kind: Terms["kind"], change: Partial<TermsDraft>) => ({
    ...blankTerms("k", kind),
    amount: "10",
    ...change,
  })
  it.each([
    ["full", { amount: "" }, "amount"],
    ["full", { amount: "-5" }, "amount"],
    ["full", { amount: "12.345" }, "amount"],
    ["full", { amount: "ten" }, "amount"],
    ["full", { amount: "999999999999" }, "amount"],
    ["instalments", { upFront: "x" }, "upFront"],
    ["instalments", { times: "0" }, "times"],
    ["instalments", { times: "2.5" }, "times"],
    ["instalments", { everyCount: "25" }, "everyCount"],
    ["subscription", { endless: false, times: "" }, "times"],
    ["subscription", { trialUnit: "day", trialLength: "400" }, "trialLength"],
    ["subscription", { trialUnit: "day", trialAmount: "-1" }, "trialAmount"],
  ] as const)("%s with %j is refused at its field, in words", (kind, change, field) => {
    const read = termsOf(typed(kind, change), "EUR")
    expect(read).toMatchObject({ field, says: expect.stringMatching(/./) })
  })
  it("take a comma and spaces as people type them, and the digits of the currency", () => {
    expect(termsOf(typed("full", { amount: "1 234,50" }), "EUR")).toEqual({ terms: { kind: "full", amount: 123_450 } })
    expect(termsOf(typed("full", { amount: "1500" }), "JPY")).toEqual({ terms: { kind: "full", amount: 1_500 } })
    expect(termsOf(typed("full", { amount: "1.50" }), "JPY")).toHaveProperty("field", "amount")
  })
})
