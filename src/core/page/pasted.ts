// What is pasted from a word processor, a web page or a text editor becomes blocks. Nothing of it is trusted: only what is named here is taken.
import { parseDocument } from "htmlparser2"
import { micromark } from "micromark"
import { escapeHtml } from "../html"
import type { Block } from "./document"

type Node = ReturnType<typeof parseDocument>["children"][number]
type Part =
  | { readonly as: "heading" | "paragraph"; readonly says: string }
  | { readonly as: "bullets"; readonly says: readonly string[] }

/** As much as one text, line or list takes (characters, items): their schemas' own. */
const [mostText, mostLine, mostItems] = [20_000, 300, 40]

/** Blocks of some HTML, each with an id of its own: headings, lists and texts. Pictures, scripts, forms and styles are left out. */
export function blocksFromHtml(html: string): Block[] {
  return blocksOf(partsOf(parseDocument(html).children))
}

/** Blocks of a text, as CommonMark reads it. */
export function blocksFromText(text: string): Block[] {
  return blocksFromHtml(micromark(text))
}

const left = new Set([
  "script",
  "style",
  "head",
  "template",
  "noscript",
  "svg",
  "math",
  "iframe",
  "object",
  "form",
  "title",
  "select",
  "textarea",
])
const blockTags = new Set([
  "p",
  "div",
  "section",
  "article",
  "main",
  "header",
  "footer",
  "aside",
  "center",
  "body",
  "html",
  "table",
  "tbody",
  "thead",
  "tfoot",
  "tr",
  "ul",
  "ol",
  "li",
  "blockquote",
  "pre",
  "h1",
  "h2",
  "h3",
  "h4",
  "h5",
  "h6",
  "hr",
  "figure",
  "dl",
  "dt",
  "dd",
])
const holds = (n: Node): boolean =>
  "name" in n && (blockTags.has(n.name) || ("children" in n && n.children.some(holds)))

function partsOf(nodes: readonly Node[]): Part[] {
  const parts: Part[] = []
  let line: Node[] = []
  const flush = () => {
    const says = inline(line).trim()
    if (plain(says)) parts.push({ as: "paragraph", says: `<p>${says}</p>` })
    line = []
  }
  for (const n of nodes) {
    if (!holds(n)) {
      line.push(n)
      continue
    }
    flush()
    if (!("name" in n) || !("children" in n) || left.has(n.name)) continue
    if (/^h[1-6]$/.test(n.name)) parts.push({ as: "heading", says: plain(inline(n.children)) })
    else if (n.name === "ul" || n.name === "ol") parts.push(...listed(n.name, n.children))
    else if (n.name === "tr") {
      const cells = n.children.flatMap((c) => ("children" in c ? plain(inline(c.children)) : ""))
      const says = cells.filter(Boolean).map(escapeHtml).join(" · ")
      if (says) parts.push({ as: "paragraph", says: `<p>${says}</p>` })
    } else if (n.name === "blockquote") {
      for (const p of partsOf(n.children))
        parts.push(p.as === "paragraph" ? { as: "paragraph", says: `<blockquote>${p.says}</blockquote>` } : p)
    } else parts.push(...partsOf(n.children))
  }
  flush()
  return parts
}

/** Points of plain words are a list; numbered ones, and those with links or marks in them, stay in a text. */
function listed(tag: "ul" | "ol", nodes: readonly Node[]): Part[] {
  const items = nodes.flatMap((n) => ("name" in n && n.name === "li" && "children" in n ? [n.children] : []))
  const says = items.map((i) => inline(i).trim()).filter(plain)
  if (!says.length) return []
  if (tag === "ol" || says.some((s) => /</.test(s)))
    return [{ as: "paragraph", says: `<${tag}>${says.map((s) => `<li><p>${s}</p></li>`).join("")}</${tag}>` }]
  return [{ as: "bullets", says: says.map(plain) }]
}

function inline(nodes: readonly Node[]): string {
  return nodes
    .map((n): string => {
      if (n.type === "text") return escapeHtml(n.data.replace(/[\s\u00a0]+/g, " "))
      if (!("name" in n) || !("children" in n) || left.has(n.name)) return ""
      if (n.name === "br") return "<br>"
      const says = inline(n.children) + (blockTags.has(n.name) ? " " : "")
      return marksOf(n.name, n.attribs).reduce(
        (s, mark) => (s.trim() ? `<${mark}>${s}</${mark.split(" ")[0]}>` : s),
        says,
      )
    })
    .join("")
}

/** Word processors write marks as styles, and wrap everything in a bold that isn't. */
function marksOf(name: string, attribs: Readonly<Record<string, string>>): string[] {
  const style = attribs.style ?? ""
  const weight = /font-weight:\s*(\w+)/.exec(style)?.[1]
  const bold = weight ? weight === "bold" || Number(weight) >= 600 : name === "b" || name === "strong"
  const slant = /font-style:\s*(\w+)/.exec(style)?.[1]
  const italic = slant ? slant === "italic" : name === "i" || name === "em"
  const to = name === "a" && /^(https?:|mailto:)/i.test(attribs.href ?? "") ? attribs.href! : null
  return [...(bold ? ["strong"] : []), ...(italic ? ["em"] : []), ...(to ? [`a href="${escapeHtml(to)}"`] : [])]
}

const plain = (says: string) =>
  parseDocument(says)
    .children.map(function text(n): string {
      return n.type === "text"
        ? n.data
        : "name" in n && n.name === "br"
          ? " "
          : "children" in n
            ? n.children.map(text).join("")
            : ""
    })
    .join("")
    .replace(/\s+/g, " ")
    .trim()

/** Texts that follow one another are one, as far as one takes them; what is too long for a line or a list becomes a text. */
function blocksOf(parts: readonly Part[]): Block[] {
  const blocks: Block[] = []
  let words = ""
  const id = () => `p${blocks.length + 1}`
  const flush = () => {
    if (words) blocks.push({ id: id(), kind: "text", html: words })
    words = ""
  }
  const write = (says: string) => {
    if (words.length + says.length > mostText) flush()
    words += says
  }
  for (const p of parts) {
    if (p.as === "paragraph") for (const says of pieces(p.says)) write(says)
    else if (p.as === "heading" && p.says.length <= mostLine) {
      flush()
      if (p.says) blocks.push({ id: id(), kind: "headline", text: p.says })
    } else if (p.as === "bullets" && p.says.length <= mostItems && p.says.every((s) => s.length <= mostLine)) {
      flush()
      blocks.push({ id: id(), kind: "list", items: [...p.says] })
    } else {
      const says =
        p.as === "bullets"
          ? `<ul>${p.says.map((s) => `<li><p>${escapeHtml(s)}</p></li>`).join("")}</ul>`
          : `<p>${escapeHtml(p.says)}</p>`
      for (const piece of pieces(says)) write(piece)
    }
  }
  flush()
  return blocks
}

/** A text as it is, or, where it is longer than a text may be, as plain paragraphs cut at words. */
function pieces(says: string): string[] {
  if (says.length <= mostText) return [says]
  const cut = plain(says).match(/[\s\S]{1,4000}(?=\s|$)|\S{1,4000}/g) ?? []
  return cut.map((c) => `<p>${escapeHtml(c.trim())}</p>`)
}
