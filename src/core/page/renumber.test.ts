// References under other numbers, kind by kind.
import { describe, expect, it } from "vitest"
import { made } from "../../../tests/support/every-block"
import { type BlockKind, blockKinds, refsOfBlock } from "./block/list"
import { type Block, readPage } from "./document"
import { newBlock } from "./edit"
import { referredBy, renumbered } from "./renumber"

const kinds = Object.keys(blockKinds) as BlockKind[]
const page = (...blocks: Block[]) => readPage({ version: 1, title: "A page", blocks })
/** Each kind with a reference wherever it can have one. */
const full = (kind: BlockKind): Block => {
  const b = made(kind, 1)
  const more: Record<string, unknown> = {}
  for (const [key, value] of Object.entries(newBlock(kind, "b1")))
    if (
      value === null &&
      ["media", "offer", "course", "teacher", "section", "captions", "poster", "recommends"].includes(key)
    )
      more[key] = (b as Record<string, unknown>)[key] ?? 5
  return { ...b, ...more, seenBy: { segment: 9, are: true } } as Block
}

describe("what a block refers to", () => {
  it.each(kinds)("is found in a %s wherever the block itself says so", (kind) => {
    const b = full(kind)
    const key = ({ to, id }: { to: string; id: number }) => `${to}:${id}`
    expect(new Set(referredBy(b).map(key))).toEqual(new Set(refsOfBlock(b).map(key)))
  })

  it.each(kinds)("has other numbers where those are known, and the block of a %s stays one", (kind) => {
    const b = full(kind)
    expect(renumbered(b, (_, id) => id)).toEqual(b)
    const there = renumbered(b, (_, id) => id + 100)
    expect(referredBy(there).map((r) => r.id)).toEqual(referredBy(b).map((r) => r.id + 100))
    // What isn't there is left out, and it is still a page.
    const without = page(renumbered(b, () => null))
    expect(referredBy(without)).toEqual([])
  })
})

it("links, personal words and pictures of a text have other numbers, or become their words", () => {
  const html =
    '<p><a href="course:3">The course</a> costs <span data-word="price-7" data-else="little">A: price</span> <a href="https://x.example/">x</a></p><img data-media="4" alt="A jar">'
  const b = { id: "t", kind: "text" as const, html }
  expect(referredBy(b)).toEqual([
    { to: "course", id: 3 },
    { to: "offer", id: 7 },
    { to: "media", id: 4 },
  ])
  expect(renumbered(b, (_, id) => id * 10).html).toBe(
    html.replace("course:3", "course:30").replace("price-7", "price-70").replace('"4"', '"40"'),
  )
  expect(renumbered(b, () => null).html).toBe('<p>The course costs little <a href="https://x.example/">x</a></p>')
})

it("targets and conditions that lead nowhere go", () => {
  const button = { id: "b", kind: "button" as const, says: "Go", leads: { to: "link" as const, href: "lesson:4" } }
  expect(renumbered(button, () => 8)).toMatchObject({ leads: { href: "lesson:8" } })
  expect(renumbered(button, () => null)).toMatchObject({ leads: null })
  expect(renumbered({ ...button, seenBy: { segment: 1, are: false } }, () => null)).not.toHaveProperty("seenBy")
})
