import { readFileSync } from "node:fs"
import { gzipSync } from "node:zlib"
import fc from "fast-check"
import { simpleParser } from "mailparser"
import { describe, expect, it } from "vitest"
import { sampleFunnel } from "../../../tests/support/sample"
import { type CompileContext, compilePage } from "../funnel/compile"
import { escapeHtml } from "../html"
import { contrast } from "../look/colour"
import { plainly, wear } from "../look/look"
import { fillPage } from "./compile"
import { allBlocks, type Block, type Page, PageError, readPage } from "./document"
import { changeBlock, freeId, insertAfter, moveBlock, newBlock, removeBlock } from "./edit"

const funnel = sampleFunnel()
const context: CompileContext = {
  funnel,
  school: { name: "J <b>", postalAddress: "4 Mill", look: wear(plainly("kitchen-table")) },
  pictures: new Map([[3, { url: "/media/x.webp", width: 800, height: 400 }]]),
  videos: new Map(),
  release: 5,
}
const html = (page: Page, kind = "optin", c = context) =>
  fillPage(compilePage({ ...funnel.steps.find((s) => s.kind === kind)!, page }, c).pieces, {})
const page = (...blocks: Block[]): Page => ({ version: 1, title: "T", blocks })

describe("readPage", () => {
  it("takes what the recipe writes", () => {
    for (const s of funnel.steps) if (s.page) expect(readPage(JSON.parse(JSON.stringify(s.page)))).toEqual(s.page)
  })
  const deep = (n: number): unknown =>
    n === 0 ? [] : [{ id: `d${n}`, kind: "section", tone: "plain", blocks: deep(n - 1) }]
  it.each([
    ["another version", { version: 2, title: "", blocks: [] }, /version 2/],
    ["no version", { title: "", blocks: [] }, /version/],
    ["nothing", null, /version/],
    ["a list", [], /version/],
    ["blocks that are none", { version: 1, title: "", blocks: "x" }, /blocks/],
    ["an unknown kind", { version: 1, title: "", blocks: [{ id: "a", kind: "script" }] }, /blocks\.0/],
    ["a wrong id", { version: 1, title: "", blocks: [{ id: "<a>", kind: "headline", text: "" }] }, /blocks\.0\.id/],
    ["a missing field", { version: 1, title: "", blocks: [{ id: "a", kind: "headline" }] }, /blocks\.0\.text/],
    ["the same id twice", page(newBlock("headline", "a"), newBlock("text", "a")), /twice/],
    ["too deep a tree", { version: 1, title: "", blocks: deep(7) }, /deeper/],
    ["an endless title", { version: 1, title: "x".repeat(5000), blocks: [] }, /title/],
    [
      "a target that is none",
      {
        version: 1,
        title: "",
        blocks: [{ id: "a", kind: "button", says: "", leads: { to: "url", url: "javascript:alert(1)" } }],
      },
      /leads/,
    ],
  ])("refuses %s, and says where", (_, json, says) => {
    expect(() => readPage(json)).toThrow(PageError)
    expect(() => readPage(json)).toThrow(says)
  })
})

describe("editing", () => {
  const start = page(
    newBlock("headline", "a"),
    { id: "s", kind: "section", tone: "plain", blocks: [newBlock("text", "b"), newBlock("list", "c")] },
    newBlock("button", "d"),
  )
  const order = (p: Page) => [...allBlocks(p.blocks)].map((b) => b.id).join("")

  it("puts in after, also inside a section, and at the end where the place is gone", () => {
    expect(order(insertAfter(start, "b", newBlock("text", "x")))).toBe("asbxcd")
    expect(order(insertAfter(start, null, newBlock("text", "x")))).toBe("asbcdx")
    expect(order(insertAfter(start, "gone", newBlock("text", "x")))).toBe("asbcdx")
  })
  it("moves past a neighbour, into a section and out of it", () => {
    expect(order(moveBlock(start, "a", "down"))).toBe("sabcd")
    expect(moveBlock(start, "a", "down").blocks[0]).toMatchObject({
      id: "s",
      blocks: [{ id: "a" }, { id: "b" }, { id: "c" }],
    })
    expect(order(moveBlock(start, "b", "up"))).toBe("abscd")
    expect(order(moveBlock(start, "c", "down"))).toBe("asbcd")
    expect(order(moveBlock(start, "s", "up"))).toBe("sbcad")
    expect(moveBlock(start, "a", "up")).toEqual(start)
  })
  it("changes and removes one block, never its id or kind", () => {
    expect(changeBlock(start, "b", { html: "<p>x</p>", id: "z", kind: "form" } as never).blocks[1]).toMatchObject({
      blocks: [{ id: "b", kind: "text", html: "<p>x</p>" }, {}],
    })
    expect(order(removeBlock(start, "s"))).toBe("ad")
  })
  it("loses nothing and doubles nothing, however blocks are moved", () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom("a", "b", "c", "d", "s"), fc.constantFrom("up" as const, "down" as const)), {
          maxLength: 30,
        }),
        (moves) => {
          const end = moves.reduce((p, [id, way]) => moveBlock(p, id, way), start)
          expect([...order(end)].sort().join("")).toBe("abcds")
          expect(() => readPage(end)).not.toThrow()
          expect(order(end)).not.toContain(freeId(end))
        },
      ),
      { seed: 7 },
    )
  })
})

describe("compilePage", () => {
  it("escapes every word that somebody typed", async () => {
    const bad = `"><script>alert(1)</script>'&`
    const out = html(
      page(
        { id: "a", kind: "headline", text: bad },
        { id: "b", kind: "list", items: [bad] },
        { id: "c", kind: "picture", media: 3, alt: bad },
        { id: "d", kind: "button", says: bad, leads: { to: "form" } },
        { id: "e", kind: "form", says: bad, askName: true, consent: bad, confirm: true, foreign: false },
      ),
    )
    expect(out.match(/<script>/g)).toHaveLength(1) // our own, for the time zone
    expect(out).toContain(escapeHtml(bad))
    // An independent HTML reader finds the words as typed.
    const read = await simpleParser(`Content-Type: text/html; charset=utf-8\n\n${out}`)
    expect(read.text).toContain(bad)
  })
  it("leads buttons by reference: to the outcome's step, the form, a step by name; nowhere is #", () => {
    const b = (leads: Extract<Block, { kind: "button" }>["leads"]) =>
      /class="go" dir="auto" href="([^"]*)"/.exec(
        html(page({ id: "a", kind: "button", says: "x", leads }), "welcome"),
      )![1]
    expect(b({ to: "outcome", outcome: "started" })).toBe("/learn/first?begin")
    expect(b({ to: "step", step: 1 })).toBe("/first")
    expect(b({ to: "step", step: 77 })).toBe("#")
    expect(b({ to: "form" })).toBe("#")
    expect(b(null)).toBe("#")
  })
  it("carries its release in the form, and marks blocks only for the editor", () => {
    const form = page({
      id: "a",
      kind: "form",
      says: "Join",
      askName: false,
      consent: "Yes",
      confirm: true,
      foreign: false,
    })
    expect(html(form)).toContain('name="release" value="5"')
    expect(html(form)).not.toContain("data-block")
    expect(html(form)).not.toContain('name="name"')
    expect(html(form, "optin", { ...context, release: 0 })).toContain('data-block="a"')
  })
  it("fills the slots of a form that was refused, escaped", () => {
    const compiled = compilePage({ ...funnel.steps[0]! }, context)
    const filled = fillPage(compiled.pieces, { error: "Not <so>", email: '"x', name: "" })
    expect(filled).toContain("autofocus>Not &lt;so&gt;</p>")
    expect(filled).toContain('value="&quot;x"')
    expect(compiled.consent).toContain("lessons")
  })
  it("gives a picture its size, so that nothing shifts", () => {
    expect(html(page({ id: "c", kind: "picture", media: 3, alt: "x" }))).toContain('width="800" height="400"')
    expect(html(page({ id: "c", kind: "picture", media: 99, alt: "x" }))).not.toContain('<img src="/media')
  })
  it("weighs at most 14 KB compressed, with its style", () => {
    for (const s of funnel.steps) if (s.page) expect(gzipSync(html(s.page, s.kind)).length).toBeLessThan(14 * 1024)
  })
})

describe("contrast", () => {
  it("is said to be in the studio's own style sheet, too: every pair of tokens, light and dark", () => {
    const css = readFileSync(new URL("../../app/globals.css", import.meta.url), "utf8")
    const themes = [...css.matchAll(/:root \{([^}]*)\}/g)].map((m) =>
      Object.fromEntries([...m[1]!.matchAll(/--([\w-]+): (#\w{6})/g)].map((x) => [x[1], x[2]!])),
    )
    expect(themes).toHaveLength(2)
    for (const t of themes)
      for (const [text, ground] of [
        ["ink", "paper"],
        ["ink", "card"],
        ["ink", "shallow"],
        ["soft", "paper"],
        ["soft", "card"],
        ["soft", "shallow"],
        ["slate", "paper"],
        ["slate", "card"],
        ["on-slate", "slate"],
        ["reed", "reed-wash"],
        ["reed", "card"],
        ["amber-text", "amber-wash"],
        ["dusk", "card"],
        ["dusk", "paper"],
      ] as const)
        expect(contrast(t[text]!, t[ground]!), `${text} on ${ground}`).toBeGreaterThanOrEqual(4.5)
  })
})
