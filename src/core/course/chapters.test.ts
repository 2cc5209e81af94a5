// Chapters as they are typed. Minutes and seconds are below sixty as in WebVTT's timestamps (W3C WebVTT, 4.1).
import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { chapterLines, clock, readChapters } from "./chapters"

describe("chapters", () => {
  it("are lines with a time and a title, in the order of time", () => {
    expect(readChapters("1:30 The salt\n\n0:00 - Welcome\r\n1:02:03 – The end").chapters).toEqual([
      { at: 0, title: "Welcome" },
      { at: 90, title: "The salt" },
      { at: 3723, title: "The end" },
    ])
  })

  it.each(["The salt", "1:75 The salt", "1:61:00 The salt", "1:30", "1:30  ", "90 The salt", "-1:30 The salt"])(
    "are not %j",
    (line) => {
      expect(readChapters(line)).toEqual({ chapters: [], refused: [line.trim()] })
    },
  )

  it("at the same second are one, the last", () => {
    expect(readChapters("0:10 a\n0:10 b").chapters).toEqual([{ at: 10, title: "b" }])
  })

  it("come back as they were written", () => {
    const title = fc.string({ minLength: 1, maxLength: 40 }).map((s) => `x${s.replace(/\s+/g, " ").trim()}`)
    const chapters = fc.uniqueArray(fc.record({ at: fc.integer({ min: 0, max: 359_999 }), title }), {
      selector: (c) => c.at,
      maxLength: 20,
    })
    fc.assert(
      fc.property(chapters, (all) => {
        const sorted = [...all].sort((a, b) => a.at - b.at)
        expect(readChapters(chapterLines(sorted)).chapters).toEqual(sorted)
      }),
      { seed: 9 },
    )
  })

  it("are said with hours only where there are some", () => {
    expect([clock(0), clock(59), clock(600), clock(3600)]).toEqual(["0:00", "0:59", "10:00", "1:00:00"])
  })
})
