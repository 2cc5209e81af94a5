import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { allBlocks, type Block, type Page, readPage } from "./document"
import { newBlock } from "./edit"
import { chosenOf, duplicateAll, insertAllAfter, moveAll, moveAllTo, removeAll } from "./several"

const text = (id: string) => newBlock("text", id)
const page: Page = {
  version: 1,
  title: "x",
  blocks: [
    text("a"),
    { id: "s", kind: "section", tone: "plain", blocks: [text("b"), text("c")] },
    text("d"),
    text("e"),
  ],
}
const says = (blocks: readonly Block[]): string =>
  blocks.map((b) => ("blocks" in b ? `${b.id}[${says(b.blocks)}]` : b.id)).join("")
const of = (p: Page) => says(p.blocks)

describe("several blocks at once", () => {
  it("are taken in reading order, what another of them holds with it", () => {
    expect(chosenOf(page, ["d", "b", "s", "gone"]).map((b) => b.id)).toEqual(["s", "d"])
    expect(of(removeAll(page, ["b", "s", "d"]))).toBe("ae")
  })
  it.each([
    ["up, past what is none of them", ["d", "e"], "up", "as[bcde]"],
    ["down, past what is none of them", ["a", "b"], "down", "s[acb]de"],
    ["nowhere, where the first of them stands at the top", ["a", "s"], "up", "as[bc]de"],
    ["nowhere, where the last of them stands at the end", ["d", "e"], "down", "as[bc]de"],
  ] as const)("move %s", (_, ids, way, to) => expect(of(moveAll(page, ids, way))).toBe(to))
  it.each([
    ["one after the other", ["e", "d"], { beside: "a", after: true }, "ades[bc]"],
    ["into a band", ["a", "e"], { inside: "s" }, "s[bcae]d"],
    ["without what can't stand there", ["s", "e"], { beside: "b", after: true }, "as[bec]d"],
    ["nowhere beside themselves", ["d"], { beside: "d", after: true }, "as[bc]de"],
  ] as const)("are dragged %s", (_, ids, to, result) => expect(of(moveAllTo(page, ids, to))).toBe(result))
  it("are doubled below the last of them, with ids of their own", () => {
    const twice = duplicateAll(page, ["a", "s"])
    expect(twice.page.blocks.map((b) => b.kind)).toEqual(["text", "section", "text", "section", "text", "text"])
    expect(twice.ids).toEqual([twice.page.blocks[2]!.id, twice.page.blocks[3]!.id])
    expect(readPage(twice.page)).toEqual(twice.page)
  })
  it("are put in, in their order", () => {
    expect(of(insertAllAfter(page, "b", [text("x"), text("y")]))).toBe("as[bxyc]de")
    expect(of(insertAllAfter(page, null, [text("x"), text("y")]))).toBe("as[bc]dexy")
  })
  it("are never lost nor doubled by moving (any order of moves, 300 runs)", () => {
    const ids = [...allBlocks(page.blocks)].map((b) => b.id)
    const some = fc.subarray(ids)
    const to = fc.oneof(
      fc.record({ beside: fc.constantFrom(...ids), after: fc.boolean() }),
      fc.record({ inside: fc.constant("s") }),
    )
    const step = fc.oneof(fc.tuple(some, fc.constantFrom("up" as const, "down" as const)), fc.tuple(some, to))
    fc.assert(
      fc.property(fc.array(step, { maxLength: 12 }), (steps) => {
        let p = page
        for (const [which, how] of steps)
          p = typeof how === "string" ? moveAll(p, which, how) : moveAllTo(p, which, how)
        expect([...allBlocks(readPage(p).blocks)].map((b) => b.id).sort()).toEqual([...ids].sort())
      }),
      { numRuns: 300 },
    )
  })
})
