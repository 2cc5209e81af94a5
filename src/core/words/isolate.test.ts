// Unicode Standard Annex 9: what is between U+2068 and U+2069 doesn't reach the text around it. Compared by bidi-js, a reference
// implementation of the algorithm.
import bidiFactory from "bidi-js"
import { describe, expect, it } from "vitest"
import { isolate } from "./isolate"

const bidi = bidiFactory()
/** The text as it is seen from left to right. */
const seen = (text: string) => {
  const levels = bidi.getEmbeddingLevels(text, "ltr")
  const order = [...text].map((_, i) => i)
  for (const [from, to] of bidi.getReorderSegments(text, levels)) {
    const turned = order.slice(from, to + 1).reverse()
    order.splice(from, turned.length, ...turned)
  }
  return order.map((i) => text[i]).join("")
}

describe("a name in a sentence", () => {
  it("of Latin letters stays as it is", () => expect(isolate("Ines Ø")).toBe("Ines Ø"))

  it.each(["דנה", "ليلى"])("%s: the number after it stays where it was written", (name) => {
    // Without isolation a number behind a name from right to left moves before it.
    expect(seen(`${name} 3 others`).indexOf("3")).toBeLessThan(name.length)
    expect(seen(`${isolate(name)} 3 others`).indexOf("3")).toBeGreaterThan(name.length)
  })
})
