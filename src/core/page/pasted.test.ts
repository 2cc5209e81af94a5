import { describe, expect, it } from "vitest"
import { cleanRichText } from "@/server/page/rich-text"
import { blockKinds } from "./block/list"
import { copied, copiedText, readCopied } from "./copied"
import { type Block, type BlockKind, type Page, readPage } from "./document"
import { newBlock } from "./edit"
import { blocksFromHtml, blocksFromText } from "./pasted"

const shape = (blocks: readonly Block[]) =>
  blocks.map((b) =>
    b.kind === "headline" ? `# ${b.text}` : b.kind === "list" ? b.items : b.kind === "text" ? b.html : b.kind,
  )
const page = (blocks: Block[]): Page => readPage({ version: 1, title: "x", blocks })

describe("what is pasted", () => {
  it("from a web page becomes headlines, texts and lists", () => {
    expect(
      shape(
        blocksFromHtml(
          `<article><h2>Why <em>salt</em></h2><p>It <b>keeps</b>.</p><p>See <a href="https://salt.example/a?b&amp;c" onclick="x()">this</a>.</p>
           <ul><li>Jar<li>Water</ul><div>Loose words<br>on two lines</div></article>`,
        ),
      ),
    ).toEqual([
      "# Why salt",
      `<p>It <strong>keeps</strong>.</p><p>See <a href="https://salt.example/a?b&amp;c">this</a>.</p>`,
      ["Jar", "Water"],
      "<p>Loose words<br>on two lines</p>",
    ])
  })
  it("from a word processor has its marks, and not the bold that everything is wrapped in", () => {
    expect(
      shape(
        blocksFromHtml(
          `<meta charset="utf-8"><b style="font-weight:normal;"><p class="MsoNormal"><span style="font-weight:700">Bold</span> and <span style="font-style:italic">slant</span><o:p></o:p></p><p>&nbsp;</p></b>`,
        ),
      ),
    ).toEqual(["<p><strong>Bold</strong> and <em>slant</em></p>"])
  })
  it("as Markdown is read as CommonMark reads it", () => {
    expect(shape(blocksFromText("# One\n\nTwo *three*\n\n- a\n- b\n\n1. x\n2. y\n\n> said"))).toEqual([
      "# One",
      "<p>Two <em>three</em></p>",
      ["a", "b"],
      "<ol><li><p>x</p></li><li><p>y</p></li></ol><blockquote><p>said</p></blockquote>",
    ])
    expect(shape(blocksFromText("<script>alert(1)</script>"))).toEqual(["<p>&lt;script&gt;alert(1)&lt;/script&gt;</p>"])
  })
  it("as a table is a line a row", () => {
    expect(shape(blocksFromHtml("<table><tr><th>Jar<th>Salt</tr><tr><td>1 l<td>20 g &lt; 30</tr></table>"))).toEqual([
      "<p>Jar · Salt</p><p>1 l · 20 g &lt; 30</p>",
    ])
  })
  it("with 200,000 letters stands on a page, in texts that are as long as one may be", () => {
    for (const word of ["salt ", "a"]) {
      const blocks = blocksFromText(word.repeat(200_000 / word.length))
      expect(blocks.length).toBeGreaterThan(9)
      expect(() => page(blocks)).not.toThrow()
      const letters = blocks.map((b) => (b.kind === "text" ? b.html.replace(/<[^>]*>|\s/g, "") : "")).join("").length
      expect(letters).toBe((200_000 / word.length) * word.trim().length)
    }
    const lines = blocksFromHtml(`<h1>${"h".repeat(301)}</h1><ul>${"<li>point".repeat(41)}</ul>`)
    expect(lines.map((b) => b.kind)).toEqual(["text"])
    expect(() => page(lines)).not.toThrow()
  })
  it("is right to left, emoji alone or one very long word as well", () => {
    for (const says of ["مرحبا بالعالم", "🥒🧂", "ß".repeat(299)])
      expect(shape(blocksFromHtml(`<h3>${says}</h3><ul><li>${says}</ul>`))).toEqual([`# ${says}`, [says]])
  })
  // After OWASP's cheat sheet of filter evasions, from memory.
  it.each([
    "<script>alert(1)</script>",
    "<img src=x onerror=alert(1)>",
    `<a href="javascript:alert(1)">x</a>`,
    `<a href="  JaVaScRiPt&#58;alert(1)">x</a>`,
    `<a href="&#106;&#97;vascript:alert(1)">x</a>`,
    `<a href="data:text/html,<script>alert(1)</script>">x</a>`,
    `<p style="background:url(javascript:alert(1))" onmouseover=alert(1)>x</p>`,
    `<svg/onload=alert(1)><svg><script>alert(1)</script></svg>`,
    `<iframe srcdoc="<script>alert(1)</script>"></iframe>`,
    `<math><mi xlink:href="javascript:alert(1)">x</mi></math>`,
    `<<script>alert(1)//<</script>`,
    `<b onclick=alert(1) style="font-weight:bold" >x</b>`,
    `<a href='https://a.example/"><script>alert(1)</script>'>x</a>`,
    `<form action="https://bad.example"><input name=q></form>`,
    `<object data="data:text/html;base64,PHNjcmlwdD4="></object><embed src=x>`,
    `<base href="https://bad.example/"><link rel=stylesheet href=x><meta http-equiv=refresh content=0>`,
  ])("brings nothing that runs: %s", (bad) => {
    for (const b of blocksFromHtml(bad)) {
      if (b.kind !== "text") continue
      expect(b.html.replace(/<\/?(p|strong|em)>|<a href="(https?:|mailto:)[^"<>]*">|<\/a>|<br>/g, "")).not.toMatch(
        /[<>]/,
      )
      // What the server makes of it is the same: nothing had to be taken away.
      expect(cleanRichText(b.html).replace(/<br \/>/g, "<br>")).toBe(b.html)
    }
  })
})

describe("what is copied", () => {
  const kinds = Object.keys(blockKinds) as BlockKind[]
  it("is the same blocks again, every kind of them", () => {
    const all = kinds.map((k, n) => newBlock(k, `b${n}`))
    expect(readCopied(copied(all, "a.example"), { school: "a.example", kinds })).toEqual({ blocks: all, left: [] })
    expect(copiedText([newBlock("text", "a"), { id: "b", kind: "headline", text: "Salt" }])).toMatch(/\n\nSalt$/)
  })
  it("names what can't stand here, and comes without what another school has", () => {
    const picture = { id: "a", kind: "picture", media: 7, alt: "" } as Block
    const form = newBlock("form", "b")
    const box = { id: "c", kind: "box", blocks: [picture] } as Block
    const read = (school: string, some = kinds) =>
      readCopied(copied([picture, form, box], "a.example"), { school, kinds: some })!
    expect(read("b.example").blocks).toEqual([
      { ...picture, media: null },
      form,
      { ...box, blocks: [{ ...picture, media: null }] },
    ])
    expect(read("b.example").left).toHaveLength(2)
    expect(read("a.example", ["picture", "box"]).left).toEqual(["form: it can't stand here"])
  })
  it.each([
    "",
    "{}",
    "[1]",
    "null",
    '{"version":2,"school":"a","blocks":[]}',
    '{"version":1,"school":"a","blocks":[{"id":"a","kind":"nothing"}]}',
  ])("is nothing of ours: %s", (text) => expect(readCopied(text, { school: "a", kinds })).toBeNull())
})
