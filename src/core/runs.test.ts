// The order in which a line of several scripts is drawn: the examples of UAX 9 (3.4, L2), its capitals written as Hebrew letters.
import { describe, expect, it } from "vitest"
import { bidiRunsOf } from "./runs"

const hebrew = (text: string) => text.replace(/[A-Z]/g, (c) => String.fromCodePoint(0x5d0 + c.charCodeAt(0) - 65))
const drawn = (text: string) => bidiRunsOf(hebrew(text), () => 0).map((r) => r.text)
/** As it is seen: what runs from right to left is turned round. */
const seen = (text: string) =>
  drawn(text)
    .map((run) => (/[\u05D0-\u05EA]/.test(run) ? [...run].reverse().join("") : run))
    .join("")

describe("a line of several scripts", () => {
  it.each([
    ["car means CAR.", "car means RAC."],
    ["he said “IT IS 123, 456, OK”.", "he said “KO ,456 ,123 SI TI”."],
    ["ana ABC kos", "ana CBA kos"],
    ["plain", "plain"],
    ["", ""],
  ])("%j is drawn as %j", (typed, looks) => {
    expect(seen(typed)).toBe(hebrew(looks))
  })

  it("is cut where its kind changes, and not for a space", () => {
    expect(bidiRunsOf("ab 12 c", (c) => /\d/.test(c))).toEqual([
      { text: "ab ", kind: false },
      { text: "12 ", kind: true },
      { text: "c", kind: false },
    ])
  })
})
