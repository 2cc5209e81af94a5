import fc from "fast-check"
import { expect, it } from "vitest"
import { capital, clip, numberSaid, saidNumber, spelled } from "./phrase"

it("numbers up to twelve are words, as style guides have it (common practice), and are read back", () => {
  expect([0, 1, 9, 12, 13, 100].map(spelled)).toEqual(["no", "one", "nine", "twelve", "13", "100"])
  for (let n = 0; n <= 200; n++) {
    expect(numberSaid(spelled(n))).toBe(n)
    expect(numberSaid(capital(spelled(n)))).toBe(n)
    expect(spelled(n)).toMatch(new RegExp(`^(${saidNumber})$`))
  }
})

it("a text that is cut is within its length, ends between characters, and says that there was more", () => {
  fc.assert(
    fc.property(fc.string({ unit: "grapheme" }), fc.integer({ min: 1, max: 40 }), (text, most) => {
      const cut = clip(text, most)
      expect(cut.length).toBeLessThanOrEqual(most)
      // No half of a pair of surrogates is left (Unicode 3.8).
      expect(() => encodeURIComponent(cut)).not.toThrow()
      if (text.length <= most) expect(cut).toBe(text)
      else {
        expect(cut).toMatch(/…$/)
        expect(text.startsWith(cut.slice(0, -1))).toBe(true)
      }
    }),
    { seed: 9 },
  )
})

it("only the first letter becomes a capital", () => {
  expect([capital("koji at last"), capital("élan"), capital(""), capital("7 jars")]).toEqual([
    "Koji at last",
    "Élan",
    "",
    "7 jars",
  ])
})
