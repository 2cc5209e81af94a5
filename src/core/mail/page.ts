// An e-mail as a page of blocks: those that a mail can carry, and the body that they are compiled to, in what mail programs understand.
import { type Html, html, raw } from "../html"
import type { MailAt } from "../page/block/kind"
import { blockKinds } from "../page/block/list"
import { allBlocks, type Block, type BlockKind, type Page, readPage } from "../page/document"
import { widest } from "./body"
import { type ChipValues, richChip } from "./chip"

/** The kinds of block that an e-mail can carry. */
export const mailBlocks: readonly BlockKind[] = (Object.keys(blockKinds) as BlockKind[]).filter(
  (k) => blockKinds[k].mail,
)

/** The page of an e-mail: one from before, or one that says nothing but a text, is a single block of text. Throws PageError. */
export function mailPage({ page, body }: { readonly page: string | null; readonly body: string }): Page {
  if (page !== null) return readPage(JSON.parse(page))
  return { version: 1, title: "E-mail", blocks: [{ id: "text", kind: "text", html: body }] }
}

/** Its text, where it is a page of nothing else; by that it is kept. Null: it says more. */
export function onlyText(page: Page): string | null {
  const [only, more] = page.blocks
  return only && !more && only.id === "text" && "html" in only && Object.keys(only).length === 3 ? only.html : null
}

/** What an e-mail speaks of that its blocks name by number. */
export type MailAbout = Pick<MailAt, "courses" | "teachers"> & {
  /** What offers are called. */
  readonly offers: ReadonlyMap<number, string>
}

/**
 * The body of an e-mail, with chips, and pictures by number (`withPictures`). For the editor with its marks: `says` is what is said of offers
 * there ("price-7"), which is only known when it is sent.
 */
export const bodyOfPage = (page: Pick<Page, "blocks">, about: MailAbout, says?: ChipValues): string =>
  page.blocks.map((b) => written(b, about, says, widest)).join("")

function written(b: Block, about: MailAbout, drawn: ChipValues | undefined, width: number): string {
  const mark = (name: string, path: string) => html`${drawn && raw(` data-${name}="${b.id}${path && ` ${path}`}"`)}`
  const at: MailAt = {
    ...about,
    width,
    editing: drawn !== undefined,
    mark: mark("block", ""),
    says: (path) => mark("says", path),
    rich: (path) => mark("rich", path),
    picture: (media, alt, most = widest) =>
      html`${media !== null && html`<img data-media="${media}" alt="${alt}" data-widest="${Math.min(most, width)}">`}`,
    offer(says, offer, otherwise) {
      const word = `${says}-${offer}` as const
      const called = { offer: "", price: ": price", ends: ": end" }[says]
      return drawn
        ? html`${drawn[word] || otherwise}`
        : raw(richChip(word, otherwise, `${about.offers.get(offer) ?? "An offer"}${called}`))
    },
    href: (target) => (target?.to === "step" ? `step:${target.step}` : target?.to === "link" ? target.href : null),
  }
  const held = (each: number): Html[] =>
    "blocks" in b ? b.blocks.map((inner) => raw(written(inner, about, drawn, each))) : []
  return blockKinds[b.kind].mail?.(b, at, held).text ?? ""
}

const forSome = "a part of it was for some visitors of a page only; everybody reads it here"

/** What an e-mail still leaves to be said, in words. */
export const mailGaps = (blocks: readonly Block[]): string[] =>
  [...allBlocks(blocks)].flatMap((b) => {
    const gap = blockKinds[b.kind].gap(b)
    return [...(gap === null ? [] : [gap]), ...(b.on || b.seenBy ? [forSome] : [])]
  })
