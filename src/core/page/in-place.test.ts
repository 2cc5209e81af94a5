// What is written where it stands: the editor's page is the visitor's page with marks, and each mark leads to the text that it stands at.
import { describe, expect, it } from "vitest"
import { made, pageOf, stand } from "../../../tests/support/every-block"
import { lookNames } from "../look/list"
import { type Block, type Page, readPage } from "./document"
import { pointBelow, sayInBlock, withoutPoint } from "./edit"

/** Made anew for each visit: the editor shows a sample. */
const anew = ["price", "guarantee", "countdown", "announcement", "comparison", "quotes", "figures", "reach"]
/** Style and body, without what only the editor or only a visitor needs. */
const unmarked = (text: string) =>
  text
    .slice(text.indexOf("<style>"))
    .replace(/ data-(block|says|rich)="[^"]*"/g, "")
    .replace(/<script\b.*?<\/script>/gs, "")
    .replace('name="release" value="0"', 'name="release" value="7"')
    .replace('<img src="/seen.gif" alt="" hidden>', "")
const marks = (text: string) =>
  [...text.matchAll(/ data-(says|rich)="(\S+) ([^"]+)"/g)].map(([, as, id, path]) => ({ as, id, path }))
const page = (...blocks: Block[]): Page => readPage({ version: 1, title: "A page", blocks })

describe.each(lookNames)("in the look %s", (look) => {
  it("what is edited is what is published, block by block", () => {
    for (const [i, kind] of stand.entries()) {
      if (anew.includes(kind)) continue
      const blocks = [made("headline", 99), made(kind, i)]
      const published = pageOf(blocks, look, {}, 7)
      expect(published).not.toMatch(/data-(block|says|rich)=/)
      expect(unmarked(pageOf(blocks, look, {}, 0)), kind).toBe(unmarked(published))
    }
  })
})

it("each mark leads to its text, and what is written there stands there", () => {
  let found = 0
  for (const [i, kind] of stand.entries()) {
    const blocks = [made("headline", 99), made(kind, i)]
    for (const { as, id, path } of marks(pageOf(blocks, "workshop"))) {
      const says = as === "rich" ? "<p>Said <em>here</em></p>" : "Said “here” & <there>"
      const after = sayInBlock(page(...blocks), id!, path!, says)
      const drawn = pageOf(after.blocks, "workshop")
      const shown = as === "rich" ? says : "Said “here” &amp; &lt;there&gt;"
      expect(drawn, `${kind} ${path}`).toMatch(
        new RegExp(`data-${as}="${id} ${path}"[^>]*>${shown.replace(/[/]/g, "\\/")}<`),
      )
      found++
    }
  }
  expect(found).toBeGreaterThan(20)
})

it("what a block doesn't take leaves the page as it was", () => {
  const before = page({ id: "h", kind: "headline", text: "Salt" }, { id: "l", kind: "list", items: ["One"] })
  expect(sayInBlock(before, "h", "text", "x".repeat(301))).toBe(before)
  expect(sayInBlock(before, "gone", "text", "x")).toBe(before)
  expect(sayInBlock(before, "l", "items", "x")).toBe(before)
  expect(sayInBlock(before, "h", "text", "سلام 🥬").blocks[0]).toMatchObject({ text: "سلام 🥬" })
  expect(sayInBlock(before, "l", "items.0", "").blocks[1]).toMatchObject({ items: [""] })
  // Neither its id nor its kind is a text of it.
  expect(sayInBlock(before, "h", "id", "z").blocks[0]).toMatchObject({ id: "h" })
})

it("points come below one another and go, one always stays, and nothing else has points", () => {
  const before = page(
    { id: "h", kind: "headline", text: "Salt" },
    { id: "l", kind: "list", items: ["One", "Two"] },
    { id: "n", kind: "numbered", items: [{ title: "Salt", says: "" }] },
  )
  const more = pointBelow(before, "l", "items.0")!
  expect(more.path).toBe("items.1")
  expect(more.page.blocks[1]).toMatchObject({ items: ["One", "", "Two"] })
  const less = withoutPoint(more.page, "l", "items.1")!
  expect(less).toEqual({ page: before, path: "items.0" })
  const one = withoutPoint(before, "l", "items.0")!
  expect(one).toMatchObject({ path: "items.0" })
  expect(withoutPoint(one.page, "l", "items.0")).toBeNull()
  for (const [id, path] of [
    ["h", "text"],
    ["n", "items.0.title"],
    ["l", "items"],
    ["l", "items.7"],
    ["gone", "items.0"],
  ] as const)
    expect(pointBelow(before, id, path), `${id} ${path}`).toBeNull()
  let full = before
  for (let n = 0; n < 60; n++) full = pointBelow(full, "l", "items.0")?.page ?? full
  expect(full.blocks[1]).toHaveProperty("items.length", 40)
})
