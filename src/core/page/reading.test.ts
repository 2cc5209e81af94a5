import { describe, expect, it } from "vitest"
import { readingOf } from "./reading"

describe("reading ease", () => {
  // Worked examples that are given with the formula in many places; from memory, reckoned again by hand beside each.
  it("is Flesch's of known sentences", () => {
    // 6 words, 6 syllables: 206.835 - 1.015 × 6 - 84.6.
    expect(readingOf("The cat sat on the mat.")).toMatchObject({ ease: expect.closeTo(116.145, 3), by: "Flesch" })
    const point = "This sentence, taken as a reading passage unto itself, is being used to prove a point."
    // 16 words, 24 syllables: 206.835 - 1.015 × 16 - 84.6 × 1.5 = 63.695; given as 69 where 23 are counted.
    expect(readingOf(point)!.ease).toBeCloseTo(63.695, 3)
    // 13 words: given as 37.5, where Australian and reptilian have three syllables each; with the four that they are spoken with 26 in all:
    // 206.835 - 1.015 × 13 - 84.6 × 2.
    expect(
      readingOf("The Australian platypus is seemingly a hybrid of a mammal and reptilian creature.")!.ease,
    ).toBeCloseTo(24.44, 3)
  })
  it("is Amstad's of German: 180 - words of a sentence - 58.5 × syllables of a word", () => {
    // 6 words, 8 syllables (Die Kat-ze sitzt auf der Mat-te): 180 - 6 - 58.5 × 8 / 6.
    expect(readingOf("Die Katze sitzt auf der Matte.")).toMatchObject({ ease: expect.closeTo(96, 6), by: "Amstad" })
  })
  it("is nothing without words, and counts sentences by their ends and lines", () => {
    expect(readingOf(" 12 … 🥒\n")).toBeNull()
    expect(readingOf("One jar. Two jars! 3.5 l of brine?\nA lid")).toMatchObject({ sentences: 4, words: 9 })
  })
})
