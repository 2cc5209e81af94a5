import { describe, expect, it } from "vitest"
import { bankText } from "./bank-letters"

describe("a name as a bank takes it", () => {
  // By the tables of EPC217-08, from memory.
  it.each([
    ["Ada Fern", "Ada Fern", false],
    ["Zoë Müller-Šťastná", "Zoe Muller-Stastna", true],
    ["Łucja Ørsted Æsir ß", "Lucja Orsted Aesir ss", true],
    ["Ελένη Παπαδοπούλου", "Eleni Papadopoulou", true],
    ["Θάλεια Ψυχή Χρήστου", "Thaleia Psychi Christou", true],
    ["Цветана Щерева", "Tsvetana Shtereva", true],
    ["Жанна Юрьевна Ёлкина", "Zhanna Yuryevna Elkina", true],
    ["Љубица Ђорђевић", "Ljubitsa Djordjevic", true],
    ["Crock & Sons_Ltd", "Crock + Sons-Ltd", true],
    ["Ada 🥒 Fern", "Ada . Fern", true],
    ["🥒", ".", true],
    ["山田 花子", ".. ..", true],
    ["", ".", true],
    ["//Ada//Fern//", "Ada/Fern", true],
    ["Ada\n\tFern", "Ada Fern", true],
    ["<b>&amp;</b>", ".b.+amp,./b.", true],
  ])("%j is %j", (typed, text, changed) => {
    expect(bankText(typed, 70)).toEqual({ text, changed })
  })
  it("is cut to what there is room for, and holds nothing but the letters of the rulebooks", () => {
    expect(bankText("x".repeat(200), 70).text).toHaveLength(70)
    const everything = Array.from({ length: 0x3000 }, (_, i) => String.fromCodePoint(i + 1)).join("")
    for (let at = 0; at < everything.length; at += 500)
      expect(bankText(everything.slice(at, at + 500), 5000).text).toMatch(/^[A-Za-z0-9/\-?:().,'+ ]+$/)
  })
})
