// The first screen of a page: what its first blocks are, laid out as the look or the page itself has it.
import type { FirstScreen } from "../look/kind"
import { blockKinds } from "./block/list"
import type { Block, Page } from "./document"

export type First = {
  readonly arrangement: FirstScreen
  readonly words: readonly Block[]
  /** What is shown beside, behind or above them: a picture, a film, or the form. */
  readonly show: Block | null
  /** What stands below the first screen. */
  readonly rest: readonly Block[]
}

/**
 * The blocks that a page begins with, up to its second headline or the first that has no place there, and how they are laid out; null where
 * it begins with no headline, or with nothing but one. An arrangement that lacks its picture or its form gives way to one that doesn't.
 */
export function firstScreen(page: Pick<Page, "blocks" | "first">, wanted: FirstScreen): First | null {
  const run: Block[] = []
  for (const b of page.blocks) {
    const place = blockKinds[b.kind].inFirst
    if (!place || (place !== "words" && run.some((r) => blockKinds[r.kind].inFirst === place))) break
    run.push(b)
  }
  const found = (place: "title" | "show" | "form") => run.find((b) => blockKinds[b.kind].inFirst === place) ?? null
  if (run.length < 2 || !found("title")) return null
  const [picture, form] = [found("show"), found("form")]
  const as = page.first ?? wanted
  const arrangement: FirstScreen =
    as === "words" || as === "centred"
      ? as
      : as === "form" && form
        ? "form"
        : picture
          ? as === "form"
            ? "beside"
            : as
          : form
            ? "form"
            : "words"
  const show = arrangement === "form" ? form : arrangement === "words" ? null : picture
  return { arrangement, words: run.filter((b) => b !== show), show, rest: page.blocks.slice(run.length) }
}
