import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { freeSlug, isPath, reserved, slugOf } from "./slug"

describe("slugOf", () => {
  it.each([
    ["The First Crock", "the-first-crock"],
    ["  Søren's Łódź & Æble! ", "soren-s-lodz-aeble"],
    ["第一の壺", "page"],
    ["../../etc/passwd", "etc-passwd"],
    ["x".repeat(90), "x".repeat(60)],
  ])("%j becomes %s", (name, slug) => {
    expect(slugOf(name)).toBe(slug)
  })
  it("always gives an address that can stand, or one of our own words that freeSlug steps around", () => {
    fc.assert(
      fc.property(fc.string({ unit: "grapheme" }), (name) => {
        expect(isPath(freeSlug(slugOf(name), new Set(reserved)))).toBe(true)
      }),
      { seed: 8 },
    )
  })
})

describe("isPath", () => {
  it.each([
    ["first-crock", true],
    ["a/b/c/d", true],
    ["a/b/c/d/e", false],
    ["", false],
    ["Studio", false],
    ["studio", false],
    ["learn/x", false],
    ["_next/x", false],
    ["a//b", false],
    ["/a", false],
    ["a b", false],
    ["a?b", false],
    [`a${"b".repeat(170)}`, false],
  ])("%j: %s", (path, good) => {
    expect(isPath(path)).toBe(good)
  })
})
