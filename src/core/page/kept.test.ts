import { describe, expect, it } from "vitest"
import { inKept, pageOf } from "../../../tests/support/every-block"
import type { Block, Page } from "./document"
import { newBlock } from "./edit"
import { fillKept, keptBlocks, keptOn } from "./kept"
import { allBlocks } from "./walk"

const kept = (id: string, section: number | null): Block => ({ id, kind: "kept", section })
const page = (...blocks: Block[]): Page => ({ version: 1, title: "A page", blocks })
const held: Block[] = [
  { id: "h", kind: "headline", text: "Thirty days" },
  { id: "s", kind: "section", tone: "dark", blocks: [newBlock("text", "t")] },
]
const sections = new Map([[5, held]])
const ids = (p: Page) => [...allBlocks(p.blocks)].map((b) => b.id)

describe("a page with kept sections", () => {
  it("has what they hold in their place, in bands too, each by a name of its own however often it stands there", () => {
    const written = page(
      kept("a", 5),
      { id: "k", kind: "section", tone: "plain", blocks: [kept("b", 5)] },
      newBlock("text", "x"),
    )
    const filled = fillKept(written, sections)
    expect(ids(filled)).toEqual(["a-h", "a-s", "a-t", "k", "b-h", "b-s", "b-t", "x"])
    expect([...allBlocks(filled.blocks)].map((b) => b.within)).toEqual([
      "a",
      "a",
      "a",
      undefined,
      "b",
      "b",
      "b",
      undefined,
    ])
    expect(keptOn(written)).toEqual([5])
  })
  it("shows them to whom and where they are for", () => {
    const seenBy = { segment: 4, are: true }
    const filled = fillKept(page({ ...kept("a", 5), on: "phone", seenBy }), sections)
    expect(filled.blocks).toMatchObject([
      { on: "phone", seenBy },
      { on: "phone", seenBy },
    ])
  })
  it("says of one that is gone that it isn’t known which one it is", () => {
    expect(fillKept(page(kept("a", 6)), sections).blocks).toEqual([kept("a", null)])
  })
  it("is what a page with the same blocks is, but for what the editor marks", () => {
    expect(pageOf([kept("a", 1)], "workshop", {}, 7)).toBe(pageOf(inKept, "workshop", {}, 7))
  })
  it("is written in its own place alone: what it holds is chosen as one, and has no text to write in", () => {
    const drawn = pageOf([kept("a", 1)], "workshop", {}, 0)
    expect(drawn).toContain('data-block="a"')
    expect(drawn).not.toMatch(/data-(says|rich)="a|data-block="a-/)
  })
})

it("a kept section holds no kept section, and nothing that is asked for by a page of its own", () => {
  for (const kind of ["kept", "form", "checkout", "quiz"] as const) expect(keptBlocks).not.toContain(kind)
  expect(keptBlocks).toContain("guarantee")
})
