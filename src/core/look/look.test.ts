import { readFileSync, statSync } from "node:fs"
import Color from "colorjs.io"
import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { contrast, hexOf, mend, oklchOf, scrim } from "./colour"
import type { Colour } from "./kind"
import { lookKinds, lookNames } from "./list"
import { leastContrast, plainly, readWorn, wear } from "./look"
import { fontFile, pairs, subsets, typefaces, typefacesOf } from "./typeface"

const colour = fc
  .integer({ min: 0, max: 0xffffff })
  .map((n) => `#${n.toString(16).padStart(6, "0").toUpperCase()}` as Colour)
const packages = new URL("../../../node_modules/", import.meta.url)

describe("colours", () => {
  // colorjs.io is an implementation of its own, of CSS Color 4 and of WCAG 2.1's contrast.
  it("have the contrast and the OKLCH that a reference library finds", () =>
    fc.assert(
      fc.property(colour, colour, (a, b) => {
        // It weighs red, green and blue with more digits than WCAG's definition has.
        expect(contrast(a, b)).toBeCloseTo(new Color(a).contrast(b, "WCAG21"), 2)
        const [l, c] = new Color(a).to("oklch").coords
        expect(oklchOf(a).l).toBeCloseTo(l ?? 0, 3)
        expect(oklchOf(a).c).toBeCloseTo(c ?? 0, 3)
      }),
    ))

  it("that can be read already stay", () => expect(mend("#000000", ["#FFFFFF"], 4.5)).toBe("#000000"))

  it("are mended to one that passes, of the same hue, and none nearer is on a grid", () =>
    fc.assert(
      fc.property(colour, colour, (given, ground) => {
        const found = mend(given, [ground], 4.5)
        if (found === null) throw new Error("black or white can be read on any one colour")
        expect(contrast(found, ground)).toBeGreaterThanOrEqual(4.5)
        const [from, to] = [oklchOf(given), oklchOf(found)]
        const turned = Math.abs(((to.h - from.h + 540) % 360) - 180)
        // Eight bits a channel leave a grey, or nearly one, no hue to keep.
        if (to.c > 0.04) expect(turned).toBeLessThan(4)
        const far = (c: Colour) => Math.hypot(oklchOf(c).l - from.l, oklchOf(c).c - from.c)
        for (let l = 0; l <= 1; l += 0.05)
          for (let c = 0; c <= from.c; c += 0.04) {
            const other = hexOf({ l, c, h: from.h })
            if (contrast(other, ground) >= 4.5) expect(far(other)).toBeGreaterThan(far(found) - 0.012)
          }
      }),
      { numRuns: 40 },
    ))

  it("that nothing can be told from two grounds at once are not mended", () =>
    expect(mend("#777777", ["#000000", "#FFFFFF"], 5)).toBeNull())

  it("lie under a scrim that is just strong enough for any picture", () =>
    fc.assert(
      fc.property(colour, (pixel) => {
        const alpha = scrim("#FFFFFF", "#101010", [pixel])
        const mixed = (a: number) =>
          `#${[1, 3, 5]
            .map((i) =>
              Math.round(0x10 * a + Number.parseInt(pixel.slice(i, i + 2), 16) * (1 - a))
                .toString(16)
                .padStart(2, "0"),
            )
            .join("")}`
        expect(contrast("#FFFFFF", mixed(alpha))).toBeGreaterThanOrEqual(4.5)
        if (alpha > 0) expect(contrast("#FFFFFF", mixed(alpha - 0.01))).toBeLessThan(4.5)
      }),
    ))
})

describe("typefaces", () => {
  it.each(Object.keys(pairs) as (keyof typeof pairs)[])(
    "of the pair %s are there, and weigh at most 60 KB in Latin letters",
    (pair) => {
      const sizes = typefacesOf(pair).map((t) => statSync(new URL(fontFile(`${t}-latin.woff2`)!, packages)).size)
      expect(sizes.reduce((a, b) => a + b, 0)).toBeLessThanOrEqual(60 * 1024)
    },
  )
  it("have the letters beyond Latin, too, and the ranges that their packages say", () => {
    for (const [name, t] of Object.entries(typefaces)) {
      expect(statSync(new URL(fontFile(`${name}-latin-ext.woff2`)!, packages)).size).toBeGreaterThan(1000)
      const ranges = JSON.parse(readFileSync(new URL(`${t.file.split("/files/")[0]}/unicode.json`, packages), "utf8"))
      expect(ranges.latin, name).toBe(subsets.latin)
    }
  })
  it("are found by the names that pages from before know", () =>
    expect(fontFile("bricolage-grotesque.woff2")).toBe(fontFile("bricolage-latin.woff2")))
  it("are no others", () => {
    for (const name of [
      "arial-latin.woff2",
      "karla-greek.woff2",
      "karla.woff2",
      "../karla-latin.woff2",
      "toString-latin.woff2",
    ])
      expect(fontFile(name)).toBeUndefined()
  })
})

describe("what a school wears", () => {
  it("is read from what is kept, from names of before, and is the first look where it can't be", () => {
    const own = { ...plainly("workshop"), action: "#AA0000" as const, corners: "round" as const }
    expect(readWorn(JSON.stringify(own))).toEqual(own)
    expect(readWorn("lamplight").kind).toBe("nightfall")
    for (const kept of ["", "neon", "{", '{"kind":"neon"}', '{"kind":"workshop","action":"red"}', "toString"])
      expect(readWorn(kept)).toEqual(plainly("kitchen-table"))
  })

  it("is the look itself where nothing is its own", () => {
    for (const kind of lookNames) expect(wear(plainly(kind)).bands).toEqual(lookKinds[kind].bands)
  })

  it("can be read in every look, whatever its colours, or it is said that it can't", () =>
    fc.assert(
      fc.property(
        fc.constantFrom(...lookNames),
        fc.option(colour),
        fc.option(colour),
        fc.option(colour),
        (kind, ground, action, third) => {
          const look = wear({ ...plainly(kind), ground, action, third })
          if (look.mended.every((m) => m.now !== null)) expect(leastContrast(look)).toBeGreaterThanOrEqual(4.5)
          else expect(ground ?? third).not.toBeNull()
        },
      ),
      { numRuns: 100 },
    ))

  it("tells an action that had to be mended, and what it became", () => {
    const { mended, bands } = wear({ ...plainly("broadsheet"), action: "#FFF2A0" })
    expect(mended.find((m) => m.where === "plain")).toMatchObject({ was: "#FFF2A0", now: bands.plain.action })
  })

  it("keeps an action that can be seen as it is", () =>
    expect(wear({ ...plainly("broadsheet"), action: "#A02020" }).bands.plain.action).toBe("#A02020"))
})
