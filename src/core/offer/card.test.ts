import { describe, expect, it } from "vitest"
import { passesLuhn, testCards } from "./card"

describe("the check digit", () => {
  it.each([
    // The worked example of the Luhn formula, account 7992739871 with check digit 3; padded with leading zeros, which change nothing.
    ["079927398713", true],
    ...[0, 1, 2, 4, 5, 6, 7, 8, 9].map((d) => [`07992739871${d}`, false] as [string, boolean]),
    // An IMEI carries the same check (3GPP TS 23.003, annex B): 49015420323751 with check digit 8.
    ["490154203237518", true],
    ["490154203237517", false],
    // Two neighbours changed about: caught, but for 09 and 90.
    ["490154203237581", false],
    ["", false],
    ["0", false],
    ["4901 5420 3237 518", false],
    ["49015420323751a", false],
  ])("%j: %j", (number, right) => {
    expect(passesLuhn(number)).toBe(right)
  })
  it.each(Object.entries(testCards))("stands on the test card that is %s", (_, card) => {
    expect(passesLuhn(card.number)).toBe(true)
  })
  it("differs between all test cards", () => {
    expect(new Set(Object.values(testCards).map((c) => c.number)).size).toBe(Object.keys(testCards).length)
  })
})
