import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { bringBack, compare } from "./compare"
import { allBlocks, type Block, type Page } from "./document"
import { changeBlock, freeId, insertAfter, moveTo, newBlock, removeBlock } from "./edit"

const head = (id: string, text: string): Block => ({ id, kind: "headline", text })
const page: Page = {
  version: 1,
  title: "Salt",
  blocks: [
    head("a", "Kraut"),
    { id: "s", kind: "section", tone: "plain", blocks: [head("b", "Jar"), head("c", "Lid"), head("d", "Weight")] },
    head("e", "Brine"),
    { id: "x", kind: "box", blocks: [head("f", "Spoon")] } as Block,
  ],
}
const says = (now: Page) => compare(page, now).map((d) => d.says)

describe("what is different between two versions", () => {
  it.each<[string, (p: Page) => Page, string[]]>([
    ["nothing", (p) => ({ ...p }), []],
    [
      "a headline",
      (p) => changeBlock(p, "a", { text: "Kefir" } as never),
      ["Headline “Kraut” changed to headline “Kefir”"],
    ],
    [
      "two removed",
      (p) => removeBlock(removeBlock(p, "b"), "e"),
      ["Headline “Jar” removed", "Headline “Brine” removed"],
    ],
    ["one added", (p) => insertAfter(p, "a", head("z", "New")), ["Headline “New” added"]],
    ["one moved, the others stay", (p) => moveTo(p, "b", { beside: "d", after: true }), ["Headline “Jar” moved"]],
    ["one moved out of its band", (p) => moveTo(p, "c", { beside: "a", after: true }), ["Headline “Lid” moved"]],
    [
      "the tone of a band, not what it holds",
      (p) => changeBlock(p, "s", { tone: "dark" } as never),
      ["Section “Part” changed to section “Dark part”"],
    ],
    ["the title", (p) => ({ ...p, title: "Brine" }), ["Title changed from “Salt” to “Brine”"]],
    ["what is set of the page", (p) => ({ ...p, description: "x" }), ["What is set of the page changed"]],
  ])("is said: %s", (_, change, expected) => expect(says(change(page))).toEqual(expected))

  const ids = ["a", "s", "b", "c", "d", "e", "x", "f"]
  const id = fc.constantFrom(...ids)
  const edit = fc.oneof(
    id.map((i) => (p: Page) => removeBlock(p, i)),
    fc.tuple(id, id, fc.boolean()).map(
      ([i, beside, after]) =>
        (p: Page) =>
          moveTo(p, i, { beside, after }),
    ),
    fc.tuple(id, fc.string({ maxLength: 5 })).map(
      ([i, text]) =>
        (p: Page) =>
          changeBlock(p, i, { text } as never),
    ),
    id.map((i) => (p: Page) => insertAfter(p, i, newBlock("text", freeId(p)))),
    fc.string({ maxLength: 3 }).map((title) => (p: Page) => ({ ...p, title })),
  )
  it("is nothing once everything is brought back, whatever was done", () => {
    fc.assert(
      fc.property(fc.array(edit, { maxLength: 12 }), (edits) => {
        const now = edits.reduce((p, e) => e(p), page)
        // What a removed part held comes back with it: the rest is looked at anew.
        let back = now
        for (let n = 0; n < 60; n++) {
          const [d] = compare(page, back)
          if (!d) break
          back = bringBack(back, page, d)
        }
        expect(back).toEqual(page)
      }),
      { seed: 5, numRuns: 400 },
    )
  })
  it("brings one back and leaves the others", () => {
    const now = [...allBlocks(page.blocks)]
      .filter((b) => b.kind === "headline")
      .reduce((p, b) => changeBlock(p, b.id, { text: "?" } as never), page)
    const back = bringBack(now, page, compare(page, now)[2]!)
    expect([...allBlocks(back.blocks)].map((b) => ("text" in b ? b.text : "-"))).toEqual([
      "?",
      "-",
      "?",
      "Lid",
      "?",
      "?",
      "-",
      "?",
    ])
  })
})
