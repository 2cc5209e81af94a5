import { describe, expect, it } from "vitest"
import { type Coupon, couponKey, couponRefusal } from "./coupon"

describe("a coupon", () => {
  const coupon: Coupon = {
    id: 1,
    code: "BRINE-10",
    discount: { kind: "amount", value: 1000, on: "first" },
    currency: "EUR",
    offers: [7],
    from: 100,
    until: 200,
    usesInAll: 10,
    usesPerPerson: 1,
  }
  const buying = { at: 150, offers: [7, 8], currency: "EUR" }
  it.each([
    ["counts", {}, {}, null],
    ["not yet", {}, { at: 99 }, "not-yet"],
    ["from its first instant", {}, { at: 100 }, null],
    ["over at its last instant", {}, { at: 200 }, "over"],
    ["used up", { used: 10 }, {}, "used-up"],
    ["used by them", { usedByThem: 1 }, {}, "used-by-them"],
    ["for something else", {}, { offers: [8] }, "not-for-this"],
    ["an amount in another currency", {}, { currency: "NOK" }, "other-currency"],
  ])("%s", (_, use, change, refusal) => {
    expect(couponRefusal(coupon, { used: 0, usedByThem: 0, ...use }, { ...buying, ...change })).toBe(refusal)
  })
  it.each([
    ["brine-10", "BRINE10"],
    [" Brine 10 ", "BRINE10"],
    ["ＢＲＩＮＥ１０", "BRINE10"],
    ["'; DROP TABLE", "DROPTABLE"],
    ["", ""],
  ])("%j is typed for %j", (typed, key) => {
    expect(couponKey(typed)).toBe(key)
  })
})
