import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { allBlocks, type Page } from "./document"
import { changeBlock, insertAfter, moveBlock, newBlock, removeBlock } from "./edit"
import { mergePages } from "./merge"

const base: Page = {
  version: 1,
  title: "T",
  blocks: [
    { id: "a", kind: "headline", text: "A" },
    { id: "b", kind: "text", html: "<p>B</p>" },
    { id: "s", kind: "section", tone: "plain", blocks: [{ id: "c", kind: "list", items: ["C"] }] },
  ],
}
const a = (text: string, page = base) => changeBlock(page, "a", { text })
const c = (item: string, page = base) => changeBlock(page, "c", { items: [item] })

// Three-way merging, as common practice in version control.
describe("two changes of the same page", () => {
  it.each([
    ["two blocks", a("mine"), c("theirs"), c("theirs", a("mine")), []],
    ["a word and the title", a("mine"), { ...base, title: "Theirs" }, { ...a("mine"), title: "Theirs" }, []],
    ["a word and the order", a("mine"), moveBlock(base, "b", "up"), a("mine", moveBlock(base, "b", "up")), []],
    [
      "a word and a new block",
      insertAfter(base, "a", newBlock("price", "n")),
      c("theirs"),
      c("theirs", insertAfter(base, "a", newBlock("price", "n"))),
      [],
    ],
    ["the same block", a("mine"), a("theirs"), a("mine"), ["a"]],
    ["both titles", { ...base, title: "M" }, { ...base, title: "N" }, { ...base, title: "M" }, ["title"]],
    ["both orders", removeBlock(base, "b"), moveBlock(base, "b", "up"), removeBlock(base, "b"), ["order"]],
    ["a block rewritten and removed", removeBlock(base, "a"), a("theirs"), removeBlock(base, "a"), ["a"]],
    ["a block left and removed", removeBlock(base, "b"), a("theirs"), a("theirs", removeBlock(base, "b")), []],
  ] as const)("%s", (_, mine, theirs, merged, clashes) => {
    expect(mergePages(base, mine as Page, theirs as Page)).toEqual({ merged, clashes })
  })
  it("keeps every change of words, in either order", () => {
    const words = fc.constantFrom("x", "y", "z")
    fc.assert(
      fc.property(words, words, (mine, theirs) => {
        const one = mergePages(base, a(mine), c(theirs)).merged
        expect(one).toEqual(mergePages(base, c(theirs), a(mine)).merged)
        expect([...allBlocks(one.blocks)].map((b) => b.id)).toEqual(["a", "b", "s", "c"])
      }),
      { seed: 25 },
    )
  })
})
