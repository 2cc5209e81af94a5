import { tests } from "commonmark-spec"
import fc from "fast-check"
import { describe, expect, it } from "vitest"
import * as o from "./outline"
import { readPasted } from "./paste"

const outline: o.Outline = [
  { ...o.newRow("a", "lesson", "Welcome"), id: 1, live: true, written: true },
  { ...o.newRow("m", "module", "Salt"), id: 2 },
  { ...o.newRow("b", "lesson", "Weighing"), id: 3 },
  { ...o.newRow("c", "lesson", "Brine"), id: 4 },
  { ...o.newRow("n", "module", "Jars"), id: 5 },
  { ...o.newRow("d", "lesson", "Weights"), id: 6 },
]
const keys = (rows: o.Outline) => rows.map((r) => r.key).join("")
const of = (...k: string[]) => new Set(k)
let n = 0
const fresh = () => `new${++n}`

describe("what the server has by now", () => {
  const row = (id: number, more: Partial<o.OutlineRow> = {}): o.OutlineRow => ({
    ...o.newRow(`k${id}`, "lesson", `L${id}`),
    id,
    revision: 1,
    ...more,
  })
  const heard = [row(1), row(2)]

  it("comes in where nobody has changed it here", () =>
    expect(o.takeIn(heard, heard, [row(1, { live: true, revision: 2 }), row(2)])).toEqual([
      row(1, { live: true }),
      row(2),
    ]))

  it("leaves what was changed here, field by field", () => {
    const mine = [row(1, { title: "Mine" }), row(2)]
    const theirs = [row(1, { title: "Theirs", live: true, revision: 2 }), row(2)]
    expect(o.takeIn(mine, heard, theirs)[0]).toMatchObject({ title: "Mine", live: true })
  })

  it("is no other list where nothing is new, or what comes is older", () => {
    expect(o.takeIn(heard, heard, heard)).toBe(heard)
    const later = [row(1, { title: "Saved", revision: 3 }), row(2)]
    expect(o.takeIn(later, later, [row(1, { title: "", revision: 2 }), row(2)])).toBe(later)
    const added = [...heard, o.newRow("new", "lesson", "Not stored yet")]
    expect(o.takeIn(added, heard, heard)).toBe(added)
  })
})

describe("an outline", () => {
  it("moves rows together, one place or far, and keeps their order", () => {
    expect(keys(o.moveBy(outline, of("b", "c"), "up"))).toBe("abcmnd")
    expect(keys(o.moveBy(outline, of("b", "c"), "down"))).toBe("amnbcd")
    expect(keys(o.moveBy(outline, of("a"), "up"))).toBe("ambcnd")
    expect(keys(o.moveBy(outline, of("d"), "down"))).toBe("ambcnd")
    expect(keys(o.moveBefore(outline, of("a", "d"), "c"))).toBe("mbadcn")
    expect(keys(o.moveBefore(outline, of("m", "b"), null))).toBe("acndmb")
    expect(o.moveBefore(outline, of("m", "b"), "b")).toBe(outline)
    expect(keys(o.moveBefore(outline, new Set(o.withLessons(outline, "n")), "m"))).toBe("andmbc")
  })

  it("knows what belongs to a module", () => {
    expect(o.withLessons(outline, "m")).toEqual(["m", "b", "c"])
    expect(o.withLessons(outline, "n")).toEqual(["n", "d"])
    expect(o.withLessons(outline, "a")).toEqual(["a"])
    expect(o.withLessons(outline, "?")).toEqual([])
    expect(keys(o.remove(outline, of("m", "d")))).toBe("abcn")
    expect(o.outlineCounts(outline)).toEqual({ modules: 2, lessons: 4, live: 1 })
  })

  it("turns an empty lesson into a module and back, never one that has been written", () => {
    const out = o.turn(outline, of("a", "b"), "out", fresh)
    expect(out[0]).toBe(outline[0])
    expect(out[2]).toMatchObject({ kind: "module", title: "Weighing", id: null })
    const back = o.turn(out, of(out[2]!.key), "in", fresh)
    expect(back[2]).toMatchObject({ kind: "lesson", title: "Weighing", key: out[2]!.key })
  })

  it("copies lessons with what is in them", () => {
    const twice = o.duplicate(outline, of("m", "b"), fresh)
    expect(twice.map((r) => r.title)).toEqual([
      "Welcome",
      "Salt",
      "Weighing",
      "Salt",
      "Weighing",
      "Brine",
      "Jars",
      "Weights",
    ])
    expect(twice[4]).toMatchObject({ id: null, copyOf: 3, live: false })
    expect(o.duplicate(twice, of(twice[4]!.key), fresh)[5]).toMatchObject({ copyOf: 3 })
  })

  it("changes many lessons together and no module", () => {
    const changed = o.changeRow(outline, of("m", "b", "c"), { live: true, required: false })
    expect(changed.map((r) => r.live)).toEqual([true, false, true, true, false, false])
    expect(changed[1]!.required).toBe(true)
  })

  it("never loses or doubles a row by moving", () =>
    fc.assert(
      fc.property(
        fc.subarray(outline.map((r) => r.key)),
        fc.constantFrom(...outline.map((r) => r.key), null),
        fc.constantFrom("up" as const, "down" as const),
        (some, before, way) => {
          for (const moved of [o.moveBefore(outline, new Set(some), before), o.moveBy(outline, new Set(some), way)]) {
            expect([...keys(moved)].sort()).toEqual([...keys(outline)].sort())
            expect([...keys(moved)].filter((k) => some.includes(k)).join("")).toBe(some.join(""))
          }
        },
      ),
    ))

  it("is back where it was after moving there and back", () =>
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 4 }), fc.integer({ min: 1, max: 3 }), (from, length) => {
        const block = of(...outline.slice(from, from + length).map((r) => r.key))
        const down = o.moveBy(outline, block, "down")
        if (down !== outline) expect(keys(o.moveBy(down, block, "up"))).toBe(keys(outline))
      }),
    ))
})

describe("what is pasted", () => {
  const lines = (text: string) => readPasted(text).map((p) => `${p.kind === "module" ? "# " : ""}${p.title}`)

  it("becomes modules and lessons", () => {
    expect(lines("# Salt\n- Weighing\n- Brine\n\n# Jars\n1. Weights\n2. Lids")).toEqual([
      "# Salt",
      "Weighing",
      "Brine",
      "# Jars",
      "Weights",
      "Lids",
    ])
    expect(lines("- Salt\n  - Weighing\n  - Brine\n    - deeper\n- Jars")).toEqual([
      "# Salt",
      "Weighing",
      "Brine",
      "deeper",
      "Jars",
    ])
    expect(lines("Salt\n\tWeighing\n\tBrine\nJars\n    Weights\r\n\n")).toEqual([
      "# Salt",
      "Weighing",
      "Brine",
      "# Jars",
      "Weights",
    ])
    expect(lines("One\nTwo\n\nThree")).toEqual(["One", "Two", "Three"])
    expect(lines("Salt\n====\n\nSome prose.\n\n* **Bold** `code` [link](/x)")).toEqual(["# Salt", "Bold code link"])
    expect(lines("")).toEqual([])
    expect(lines("# \n- \n-   ")).toEqual([])
    expect(readPasted(`- ${"x".repeat(500)}`)[0]!.title).toHaveLength(160)
  })

  // CommonMark's own examples (the specification 0.31.2, its test suite): every heading and every item of the HTML that it
  // expects is found, in order, with its words.
  const examples = tests
    .filter((t) => /^(ATX headings|Setext headings|Lists|List items)$/.test(t.section))
    .map((t) => ({ ...t, markdown: t.markdown.replace(/→/g, "\t"), html: t.html.replace(/→/g, "\t") }))
  it.each(examples.map((t) => [t.section, t.number, t.markdown, t.html] as const))(
    "%s, example %i",
    (_s, _n, md, html) => {
      const titles = html
        .match(/<(h[1-6]|li)>[\s\S]*?(?=<\/h[1-6]>|<\/li>|<(?:ul|ol|li|pre|blockquote|h[1-6])\b)/g)
        ?.map((found) => {
          // Of an item, what stands before its first blank line or second paragraph.
          const inner = found.replace(/^<[^>]*>/, "").trim()
          const first = inner.startsWith("<p>") ? inner.slice(3).split("</p>")[0]! : inner
          return first
            .replace(/<[^>]*>/g, "")
            .replace(/&lt;/g, "<")
            .replace(/&gt;/g, ">")
            .replace(/&quot;/g, '"')
            .replace(/&amp;/g, "&")
            .replace(/\s+/g, " ")
            .trim()
        })
        .filter(Boolean)
      // Quotes and code are no part of an outline, nor is HTML by itself.
      if (!titles || /<blockquote>|<pre>|<!--/.test(html)) return
      expect(readPasted(md).map((p) => p.title)).toEqual(titles)
    },
  )
})
