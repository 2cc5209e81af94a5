import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { sourceOf } from "./source"

describe("sourceOf", () => {
  // utm_source and utm_campaign are common practice.
  it.each([
    ["utm_source=garden%20letter", "", "garden letter"],
    ["utm_source=letter&utm_campaign=autumn", "", "letter · autumn"],
    ["", "https://www.search.example/?q=kraut", "search.example"],
    ["", "https://own.example/first", "direct"],
    ["", "", "direct"],
    ["", "javascript:alert(1)", "direct"],
    ["", "android-app://com.mail", "direct"],
    ["utm_source=%0d%0aSet-Cookie:x", "", "Set-Cookie:x"],
    ["utm_source=%20%20", "not a url", "direct"],
    ["src=market%20stall", "", "market stall"],
    ["ref=garden-letter", "https://www.search.example/", "garden-letter"],
    ["utm_source=letter&src=stall", "", "letter"],
    ["ref=%40ida", "", "ida"],
  ])("%s and %s is %s", (query, referrer, source) => {
    expect(sourceOf(new URLSearchParams(query), referrer, "own.example")).toBe(source)
  })
  it("is never empty and never long", () => {
    fc.assert(
      fc.property(fc.string(), fc.string(), (a, b) => {
        const s = sourceOf(new URLSearchParams({ utm_source: a, utm_campaign: a }), b, "x")
        expect(s.length).toBeGreaterThan(0)
        expect(s.length).toBeLessThanOrEqual(60)
      }),
      { seed: 9 },
    )
  })
})
