// Rich text on its way in: what the editors can make stays, everything else goes.
import sanitizeHtml from "sanitize-html"
import { isChipWord } from "@/core/mail/chip"
import { cleanBlock } from "@/core/page/block/list"
import type { Block, Page } from "@/core/page/document"
import { isOurLink, looksOurs, things } from "@/core/page/linked"
import { holding } from "@/core/page/walk"

/** Sanitised HTML. Links lead to http, https, mailto or a path of ours; chips keep their two attributes. */
export function cleanRichText(html: string): string {
  return sanitizeHtml(html, allowed)
}

const withoutMeaning = (f: { tag: string; attribs: Record<string, string>; text: string }) =>
  f.tag === "span" && !isChipWord(f.attribs["data-word"]) && !f.text

const allowed: sanitizeHtml.IOptions = {
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
  exclusiveFilter: withoutMeaning,
  transformTags: {
    span: (tagName, attribs) => ({
      tagName,
      attribs: isChipWord(attribs["data-word"]) ? attribs : {},
    }),
  },
  nestingLimit: 30,
}

/** The same for a page or an e-mail, whose links may lead to things of the school ("step:12"). */
const leading: sanitizeHtml.IOptions = {
  ...allowed,
  allowedSchemes: [...(allowed.allowedSchemes as string[]), ...things],
  transformTags: {
    ...allowed.transformTags,
    a: (tagName, attribs) => ({
      tagName,
      attribs: looksOurs(attribs.href ?? "") && !isOurLink(attribs.href!) ? {} : attribs,
    }),
  },
}

/** For an e-mail, which may show pictures of the school: each by its number, with words for those who can't see it. */
export const cleanLetter = (html: string): string =>
  sanitizeHtml(html, {
    ...leading,
    allowedTags: [...(allowed.allowedTags as string[]), "img"],
    allowedAttributes: { ...allowed.allowedAttributes, img: ["data-media", "alt"] },
    exclusiveFilter: (f) =>
      f.tag === "img" ? !/^[1-9]\d{0,8}$/.test(f.attribs["data-media"] ?? "") : withoutMeaning(f),
  })

const cleanBlocks = (page: Page, rich: (html: string) => string): Page => {
  const clean = (b: Block): Block => holding(cleanBlock(b, rich), (held) => held.map(clean))
  return { ...page, blocks: page.blocks.map(clean) }
}

/** Every text block of a page, sanitised; of an e-mail. */
export const cleanPage = (page: Page): Page => cleanBlocks(page, (html) => sanitizeHtml(html, leading))
export const cleanMailPage = (page: Page): Page => cleanBlocks(page, cleanLetter)
