// A pasted list becomes modules and lessons: Markdown as CommonMark reads it, or plain lines, indented or not.
import type { List, ListItem, Root, RootContent } from "mdast"
import { fromMarkdown } from "mdast-util-from-markdown"
import { toString as textOf } from "mdast-util-to-string"

export type Pasted = { readonly kind: "module" | "lesson"; readonly title: string }

/** Longest title, characters; what is longer is cut. */
const longest = 160
const clean = (text: string) => text.replace(/\s+/g, " ").trim().slice(0, longest)

/**
 * Headings are modules, and what stands in lists below them are lessons. Where there is no heading, an item with items of its
 * own is a module. Plain lines are lessons; one that is followed by lines set further in is a module. Other text is left out.
 */
export function readPasted(text: string): Pasted[] {
  const root = fromMarkdown(text)
  const structured = root.children.some((n) => n.type === "heading" || n.type === "list")
  const found = structured ? fromTree(root) : fromLines(text)
  return found.flatMap((p) => {
    const title = clean(p.title)
    return title ? [{ kind: p.kind, title }] : []
  })
}

function fromTree(root: Root): Pasted[] {
  const headed = root.children.some((n) => n.type === "heading")
  return root.children.flatMap((n: RootContent): Pasted[] => {
    if (n.type === "heading") return [{ kind: "module", title: textOf(n) }]
    return n.type === "list" ? fromList(n, headed ? "flat" : "nested") : []
  })
}

function fromList(list: List, as: "flat" | "nested"): Pasted[] {
  return list.children.flatMap((item) => {
    const inner = item.children.filter((c): c is List => c.type === "list")
    const kind = as === "nested" && inner.length ? "module" : "lesson"
    return [{ kind, title: titleOf(item) }, ...inner.flatMap((l) => fromList(l, "flat"))] as Pasted[]
  })
}

/** The first thing in an item that has words and isn't a list. */
function titleOf(item: ListItem): string {
  return textOf(
    item.children.find((c) => c.type === "paragraph" || c.type === "heading") ?? { type: "text", value: "" },
  )
}

function fromLines(text: string): Pasted[] {
  const lines = text.split(/\r?\n/).filter((l) => l.trim())
  const depth = (line: string) => /^\s*/.exec(line)![0].replace(/\t/g, "    ").length
  return lines.map((line, i) => {
    const next = lines[i + 1]
    return { kind: next !== undefined && depth(next) > depth(line) ? "module" : "lesson", title: line }
  })
}
