import { describe, expect, it } from "vitest"
import { contrast, luminance } from "./colour"
import { lookNames } from "./list"
import { leastContrast, plainly, wear } from "./look"

describe("contrast", () => {
  // WCAG 2.2: black on white is 21:1, a colour on itself 1:1. #767676 is known as the lightest grey that passes 4.5:1 on
  // white, #777777 as the first that doesn't; #949494 the same for 3:1 (common practice).
  it.each([
    ["#000000", "#ffffff", 21],
    ["#ffffff", "#000000", 21],
    ["#2b5266", "#2b5266", 1],
    ["#767676", "#ffffff", 4.54],
    ["#777777", "#ffffff", 4.48],
    ["#949494", "#ffffff", 3.03],
    ["#ff0000", "#ffffff", 4.0],
    ["#0000ff", "#ffffff", 8.59],
  ])("of %s on %s is %d", (a, b, ratio) => {
    expect(contrast(a, b)).toBeCloseTo(ratio, 2)
  })
  it("has white as 1 and black as 0, as the definition says", () => {
    expect([luminance("#ffffff"), luminance("#000000")]).toEqual([1, 0])
  })
  it.each(lookNames)("is at least 4.5 to 1 in the look %s, in every band", (kind) => {
    expect(leastContrast(wear(plainly(kind)))).toBeGreaterThanOrEqual(4.5)
  })
})
