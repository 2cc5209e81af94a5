// An e-mail as a page of blocks. What mail programs understand is common practice; parsers read it from outside.
import { DomUtils, parseDocument } from "htmlparser2"
import { simpleParser } from "mailparser"
import MailComposer from "nodemailer/lib/mail-composer"
import { describe, expect, it } from "vitest"
import { made } from "../../../tests/support/every-block"
import { sampleCourse } from "../../../tests/support/sample"
import { lookNames } from "../look/list"
import { plainly, wear } from "../look/look"
import { type Block, type BlockKind, type Page, readPage } from "../page/document"
import { linksOf, picturesOf, withPictures } from "./body"
import { compose } from "./compose"
import { bodyOfPage, mailBlocks, mailGaps, mailPage, onlyText } from "./page"

const about = {
  courses: [sampleCourse],
  teachers: new Map([[1, { name: "Maren Solberg", about: "Salts since 1998.\nTeaches since 2011.", media: 1 }]]),
  offers: new Map([[1, "A Year"]]),
}
const page = (...blocks: Block[]): Page => readPage({ version: 1, title: "E-mail", blocks })
const filled = (kind: BlockKind, i = 0): Block => {
  const b = made(kind, i)
  if (b.kind === "button") return { ...b, leads: { to: "step", step: 4 } }
  return "blocks" in b
    ? { ...b, blocks: [made("text", 10 * i + 11), made("picture", 10 * i + 12), made("headline", 10 * i + 13)] }
    : b
}
const says = { "offer-1": "A Year", "price-1": "You pay €290.00 today.", "ends-1": "It can be had until Sunday." }
const pictures = new Map([[1, { url: "https://x.example/media/a.webp.jpg", width: 1120, height: 840 }]])
const composed = (body: string, look = plainly("workshop")) =>
  compose(
    {
      subject: "S",
      body: withPictures(body, pictures),
      button: null,
      foot: { school: "Juniper Crock", postalAddress: "", look: wear(look), leave: null },
    },
    says,
    (url, n) => `https://x.example/go/${n}?${url}`,
  )

describe("blocks of an e-mail", () => {
  it("are those that a mail can carry", () => {
    expect([...mailBlocks].sort()).toEqual(
      "box button columns countdown divider headline lessons list picture price signature teacher text".split(" "),
    )
  })

  it("are edited as they are sent, kind by kind", () => {
    for (const [i, kind] of mailBlocks.entries()) {
      const p = page(filled(kind, i))
      const edited = bodyOfPage(p, about, says)
      expect(edited, kind).toContain(`data-block="b${i}"`)
      const sent = bodyOfPage(p, about)
      expect(sent).not.toMatch(/data-(block|says|rich)=/)
      expect(sent.length, kind).toBeGreaterThan(0)
      const shown = (html: string) =>
        html
          .replace(/<span data-word="([^"]*)"[^>]*>[^<]*<\/span>/g, (_, word: keyof typeof says) => says[word] ?? "")
          .replace(/ data-(block|says|rich)="[^"]*"/g, "")
          // A text has an element of its own where it is written.
          .replace(/<div dir="auto">(.*?)<\/div>/g, "$1")
      expect(shown(edited), kind).toBe(shown(sent))
    }
  })

  it.each(lookNames)("are read alike by three parsers in the look %s, and run nothing", async (look) => {
    const body = bodyOfPage(page(...mailBlocks.map(filled)), about)
    const mail = composed(body, plainly(look))
    // Each reads the words of it: one of HTML, a mail program's from the message, and that of its plain twin.
    const words = (text: string) => text.replace(/\s+/g, " ")
    const dom = parseDocument(mail.html)
    const message = await new MailComposer({ from: "a@x.example", to: "b@x.example", ...mail }).compile().build()
    const parsed = await simpleParser(message)
    for (const said of ["A year of crocks", "You pay €290.00 today.", "It can be had until Sunday.", "Maren Solberg"]) {
      expect(words(DomUtils.textContent(dom))).toContain(said)
      expect(words(String(parsed.html))).toContain(said)
      expect(words(parsed.text!)).toContain(said)
    }
    expect(mail.html).not.toMatch(/<script|javascript:|onload|<link|@import|display:\s*(flex|grid)|position:/i)
    for (const table of DomUtils.getElementsByTagName("table", dom)) expect(table.attribs.role).toBe("presentation")
    for (const { attribs } of DomUtils.getElementsByTagName("img", dom)) {
      expect(Number(attribs.width)).toBeLessThanOrEqual(560)
      expect(attribs).toHaveProperty("alt")
    }
    expect(Buffer.byteLength(mail.html)).toBeLessThan(100_000)
  })

  it("make columns that stack where there is no room for two, with pictures no wider than theirs", () => {
    const sent = bodyOfPage(page(filled("columns")), about)
    expect(sent).toMatch(/class="cell" style="max-width:186px"/)
    const html = composed(sent).html
    expect(html).toMatch(/class="cell" style="[^"]*display: inline-block[^"]*max-width: ?186px/)
    expect(html).toMatch(/<img class="picture" src="[^"]*" width="170"/)
    // The tables around them are balanced for the program that reads them.
    const read = sent.replace(/<!--\[if mso\]>(.*?)<!\[endif\]-->/g, "$1")
    for (const tag of ["table", "tr", "td"])
      expect(read.split(`<${tag}`).length, tag).toBe(read.split(`</${tag}>`).length)
  })

  it("say nothing of an end where there is none", () => {
    const body = bodyOfPage(page(made("text", 1), filled("countdown", 2), made("divider", 3)), about)
    const mail = compose(
      {
        subject: "S",
        body,
        button: null,
        foot: { school: "J", postalAddress: "", look: wear(plainly("workshop")), leave: null },
      },
      {},
    )
    expect(mail.html).not.toContain('class="ends"')
    expect(mail.text).not.toMatch(/\n{4}/)
  })

  it("count their links, and keep what those name", () => {
    const link = {
      id: "t",
      kind: "text" as const,
      html: '<p><a href="course:3">A</a> <a href="https://x.example/">B</a></p>',
    }
    const body = bodyOfPage(page(link, filled("button", 1), filled("picture", 2)), about)
    expect(linksOf(body)).toEqual(["course:3", "https://x.example/", "step:4"])
    expect(picturesOf(body)).toEqual([{ media: 1, alt: "Three jars" }])
    expect(composed(body).html).toContain('href="https://x.example/go/3?step:4"')
  })

  it("say what they leave to be said", () => {
    expect(mailGaps(page(filled("list", 1)).blocks)).toEqual([])
    const empty = { id: "p", kind: "picture" as const, media: null, alt: "" }
    expect(mailGaps([{ id: "b", kind: "box", blocks: [empty] }])).toEqual(["a picture on it is missing"])
    // What a page showed to some only is read by everybody here.
    expect(mailGaps([{ ...filled("list", 1), seenBy: { segment: 1, are: true } }])).toHaveLength(1)
  })
})

describe("an e-mail from before", () => {
  it("is one text block, and stays a text as long as it is nothing else", () => {
    const body = '<p>Hello <span data-word="first-name" data-else="friend">first name</span></p>'
    const read = mailPage({ page: null, body })
    expect(read.blocks).toEqual([{ id: "text", kind: "text", html: body }])
    expect(onlyText(read)).toBe(body)
    expect(bodyOfPage(read, about)).toBe(body)
    expect(onlyText({ ...read, blocks: [...read.blocks, made("divider", 1)] })).toBeNull()
    expect(onlyText({ ...read, blocks: [] })).toBeNull()
    expect(onlyText({ ...read, blocks: [{ ...read.blocks[0]!, on: "phone" }] })).toBeNull()
  })

  it("of a later form is refused in words", () =>
    expect(() => mailPage({ page: '{"version":2}', body: "" })).toThrow("version 1 is understood"))
})
