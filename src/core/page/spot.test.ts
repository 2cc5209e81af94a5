import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { allBlocks, type Block, type Page, readPage } from "./document"
import { duplicateBlock, moveTo, newBlock, type Spot } from "./edit"
import { spotAt } from "./spot"

const text = (id: string) => newBlock("text", id)
const page: Page = {
  version: 1,
  title: "x",
  blocks: [
    text("a"),
    { id: "s", kind: "section", tone: "plain", blocks: [text("b"), text("c")] },
    { id: "k", kind: "columns", count: 2, blocks: [text("d"), text("e")] } as Block,
    { id: "x", kind: "box", blocks: [] } as Block,
  ],
}
const order = (p: Page) => [...allBlocks(p.blocks)].map((b) => b.id).join("")
const at = (left: number, top: number, right: number, bottom: number) => ({ left, top, right, bottom })
const stands = new Map([
  ["a", at(100, 0, 700, 100)],
  ["s", at(0, 120, 800, 420)],
  ["b", at(100, 150, 700, 250)],
  ["c", at(100, 270, 700, 390)],
  ["k", at(100, 440, 700, 640)],
  ["d", at(100, 440, 390, 640)],
  ["e", at(410, 440, 700, 640)],
  ["x", at(100, 660, 700, 720)],
])
const spot = (moved: string, x: number | null, y: number) => spotAt(page.blocks, [moved], { x, y }, stands)?.spot

describe("where a block that is dragged is put", () => {
  it.each([
    ["above a block whose upper half is nearest", "c", 300, 10, { beside: "a", after: false }],
    ["below one", "c", 300, 90, { beside: "a", after: true }],
    ["into a band", "a", 300, 160, { beside: "b", after: false }],
    ["at the end of a band", "a", 300, 395, { beside: "c", after: true }],
    ["beside a band at its edge", "a", 300, 125, { beside: "s", after: false }],
    ["between columns, by the side that is nearer", "a", 600, 500, { beside: "e", after: true }],
    ["before the first of them", "a", 120, 500, { beside: "d", after: false }],
    ["by its height alone beside the page", "a", null, 500, { beside: "d", after: false }],
    ["into what holds nothing yet", "a", 300, 690, { inside: "x" }],
    ["far below everything", "a", 300, 5000, { beside: "x", after: true }],
  ] as const)("%s", (_, moved, x, y, to) => expect(spot(moved, x, y)).toEqual(to))

  it("never into another where it holds others itself, and nowhere where nothing stands", () => {
    expect(spot("s", 300, 690)).toEqual({ beside: "x", after: false })
    expect(spotAt(page.blocks, ["a"], { x: 1, y: 1 }, new Map())).toBeNull()
  })
  it("shows an upright line between columns, a lying one elsewhere", () => {
    expect(spotAt(page.blocks, ["a"], { x: 600, y: 500 }, stands)!.line).toEqual(at(700, 440, 703, 640))
    expect(spotAt(page.blocks, ["c"], { x: 300, y: 90 }, stands)!.line).toEqual(at(100, 100, 700, 103))
  })
})

describe("moving to a spot", () => {
  it("goes into a band, out of it, and into what is empty", () => {
    expect(order(moveTo(page, "a", { beside: "b", after: true }))).toBe("sbackdex")
    expect(order(moveTo(page, "c", { beside: "a", after: false }))).toBe("casbkdex")
    expect(moveTo(page, "e", { inside: "x" }).blocks.at(-1)).toMatchObject({ id: "x", blocks: [{ id: "e" }] })
    expect(order(moveTo(page, "s", { beside: "x", after: true }))).toBe("akdexsbc")
  })
  it("leaves the page where it can't: a band into a band or into itself, beside what is gone", () => {
    for (const [id, to] of [
      ["s", { beside: "d", after: true }],
      ["s", { inside: "x" }],
      ["s", { beside: "b", after: true }],
      ["s", { beside: "s", after: true }],
      ["a", { beside: "gone", after: true }],
      ["gone", { beside: "a", after: true }],
    ] as const)
      expect(moveTo(page, id, to)).toBe(page)
  })
  it("loses nothing and doubles nothing, whatever is moved or duplicated", () => {
    const ids = fc.constantFrom("a", "s", "b", "c", "k", "d", "e", "x")
    const to: fc.Arbitrary<Spot> = fc.oneof(
      fc.record({ beside: ids, after: fc.boolean() }),
      fc.record({ inside: fc.constantFrom("s", "k", "x") }),
    )
    fc.assert(
      fc.property(fc.array(fc.tuple(ids, to), { maxLength: 20 }), ids, (moves, again) => {
        const end = moves.reduce((p, [id, spot]) => moveTo(p, id, spot), page)
        expect([...order(end)].sort().join("")).toBe("abcdeksx")
        expect(() => readPage(end)).not.toThrow()
        const twice = duplicateBlock(end, again)!
        expect(() => readPage(twice.page)).not.toThrow()
        const held = [...allBlocks([[...allBlocks(end.blocks)].find((b) => b.id === again)!])].length
        expect([...allBlocks(twice.page.blocks)]).toHaveLength(8 + held)
      }),
      { seed: 11 },
    )
  })
})
