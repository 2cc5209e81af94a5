// Rich text on its way in: what the editors can make stays, everything else goes.
import sanitizeHtml from "sanitize-html"
import { chipNames } from "@/core/mail/chip"
import { blockKinds } from "@/core/page/block/list"
import type { Block, Page } from "@/core/page/document"
import { holding } from "@/core/page/walk"

/** Sanitised HTML. Links lead to http, https, mailto or a path of ours; chips keep their two attributes. */
export function cleanRichText(html: string): string {
  return sanitizeHtml(html, {
    allowedTags: [
      "p",
      "br",
      "strong",
      "b",
      "em",
      "i",
      "u",
      "s",
      "a",
      "ul",
      "ol",
      "li",
      "blockquote",
      "h2",
      "h3",
      "hr",
      "code",
      "span",
    ],
    allowedAttributes: { a: ["href"], span: ["data-word", "data-else"] },
    allowedSchemes: ["http", "https", "mailto"],
    allowProtocolRelative: false,
    exclusiveFilter: (f) => f.tag === "span" && !chipNames.includes(f.attribs["data-word"] as never) && !f.text,
    transformTags: {
      span: (tagName, attribs) => ({
        tagName,
        attribs: chipNames.includes(attribs["data-word"] as never) ? attribs : {},
      }),
    },
    nestingLimit: 30,
  })
}

/** The same for every text block of a page. */
export function cleanPage(page: Page): Page {
  const clean = (b: Block): Block =>
    holding(blockKinds[b.kind].clean?.(b, cleanRichText) ?? b, (held) => held.map(clean))
  return { ...page, blocks: page.blocks.map(clean) }
}
