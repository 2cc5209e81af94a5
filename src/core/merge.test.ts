import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { mergeFields } from "./merge"

// Three-way merging by field, as common practice in version control; the cases are written out by hand.
describe("two changes of the same thing", () => {
  const base = { title: "Salt", minutes: 5, tags: ["a"] }
  it.each([
    ["nobody changed", base, base, base, []],
    ["only I", { ...base, title: "Brine" }, base, { ...base, title: "Brine" }, []],
    ["only they", base, { ...base, minutes: 6 }, { ...base, minutes: 6 }, []],
    [
      "both, different fields",
      { ...base, title: "Brine" },
      { ...base, tags: ["b"] },
      { title: "Brine", minutes: 5, tags: ["b"] },
      [],
    ],
    ["both, to the same", { ...base, title: "Brine" }, { ...base, title: "Brine" }, { ...base, title: "Brine" }, []],
    [
      "both, the same field",
      { ...base, title: "Brine" },
      { ...base, title: "Water" },
      { ...base, title: "Brine" },
      ["title"],
    ],
  ])("%s", (_, mine, theirs, merged, clashes) => {
    expect(mergeFields(base, mine, theirs)).toMatchObject({ merged, clashes })
  })
  it("is the same from either side where nothing clashes, and loses no change", () => {
    const record = fc.record({ a: fc.nat(3), b: fc.nat(3), c: fc.nat(3) })
    fc.assert(
      fc.property(record, record, record, (base, mine, theirs) => {
        const one = mergeFields(base, mine, theirs)
        const other = mergeFields(base, theirs, mine)
        expect([...one.clashes].sort()).toEqual([...other.clashes].sort())
        if (one.clashes.length === 0) expect(one.merged).toEqual(other.merged)
        for (const f of ["a", "b", "c"] as const)
          if (!one.clashes.includes(f)) expect(one.merged[f]).toBe(base[f] === mine[f] ? theirs[f] : mine[f])
      }),
      { seed: 25 },
    )
  })
})
