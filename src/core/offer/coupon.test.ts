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
    forSeats: false,
  }
  const buying = { at: 150, offers: [7, 8], currency: "EUR", seatUntil: null }
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
  // The deadline that a seat was told is the one that counts, to the millisecond.
  it.each([
    ["whoever has no seat", { seatUntil: null }, "for-seats"],
    ["the last millisecond before it", { seatUntil: 151 }, null],
    ["the instant itself", { seatUntil: 150 }, "over"],
    ["a seat that gives it longer than the coupon counts", { at: 200, seatUntil: 300 }, "over"],
  ])("of a seat: %s", (_, change, refusal) => {
    const given = { ...coupon, forSeats: true }
    expect(couponRefusal(given, { used: 0, usedByThem: 0 }, { ...buying, ...change })).toBe(refusal)
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
