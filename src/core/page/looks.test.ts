// Every block in every look: as HTML that a checker of its own accepts (html-validate, "recommended" and "standard"), light enough, and of
// nothing but what the page uses.
import { gzipSync } from "node:zlib"
import { describe, expect, it } from "vitest"
import { made, pageOf, stand } from "../../../tests/support/every-block"
import { problems } from "../../../tests/support/valid-html"
import { firstScreens } from "../look/kind"
import { lookNames } from "../look/list"
import { plainly, wear } from "../look/look"
import { blockKinds } from "./block/list"
import type { Block } from "./document"
import { firstScreen } from "./first"

describe.each(lookNames)("in the look %s", (look) => {
  it("every block by itself is HTML that can be relied on, in each kind of band", async () => {
    for (const [i, kind] of stand.entries())
      for (const tone of ["plain", "tinted", "dark"] as const) {
        const text = pageOf([made("headline", 99), { id: "s", kind: "section", tone, blocks: [made(kind, i)] }], look)
        expect(await problems(text), `${kind} in ${tone}`).toEqual([])
      }
  })

  it("all of them on one page weigh at most 14 KB, with the style", async () => {
    const blocks = stand.map(made).map((b): Block => (b.kind === "headline" ? { ...b, id: "h" } : b))
    const text = pageOf([made("headline", 99), ...blocks], look, {}, 7)
    expect(gzipSync(text).length).toBeLessThan(14 * 1024)
    expect(await problems(text)).toEqual([])
  })

  it("each first screen is right, on each ground", async () => {
    for (const first of firstScreens)
      for (const ground of ["plain", "tinted", "dark"] as const) {
        const blocks = (["headline", "text", "button", "picture", "form"] as const).map(made)
        const text = pageOf(blocks, look, { first, ground })
        expect(text).toContain(`<header class="first ${ground} ${firstScreen({ blocks, first }, "words")!.arrangement}`)
        expect(await problems(text), `${first} on ${ground}`).toEqual([])
      }
  })

  it("has rules for kinds of block that there are", () => {
    for (const name of Object.keys(wear(plainly(look)).forms ?? {}))
      expect(name === "first" || name in blockKinds, name).toBe(true)
  })
})

it("a page brings no style of what doesn't stand on it", () => {
  const text = pageOf([made("headline", 1), made("text", 2)], "kitchen-table")
  for (const rule of [".ways", ".lessons", ".asked", ".dark{", "#checkout"]) expect(text).not.toContain(rule)
})

it("sixty blocks are compiled within 30 ms, or within twenty times that on the slowest machine", () => {
  const blocks = Array.from({ length: 60 }, (_, i) => made(stand[i % stand.length]!, i))
  pageOf(blocks, "workshop")
  const began = performance.now()
  pageOf(blocks, "workshop")
  expect(performance.now() - began).toBeLessThan(600)
})

it("long, short, right to left: headlines stay as they are typed, and long ones are set smaller", () => {
  for (const text of ["Salt", "x".repeat(300), "تخمير الملفوف في المنزل", "🥬🧂"]) {
    const drawn = pageOf([{ id: "h", kind: "headline", text }, made("text", 2)], "market-poster")
    expect(drawn).toContain(`dir="auto">${text}</h1>`)
    expect(drawn.includes('class="long"')).toBe(text.length > 44)
  }
})
