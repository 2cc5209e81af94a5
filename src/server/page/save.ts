// Saving a page of blocks as it is typed: cleaned, and merged by block with what another window has made of it meanwhile.
import { type Page, PageError, readPage } from "@/core/page/document"
import { mergePages } from "@/core/page/merge"
import { refusals } from "@/core/words/refusals"
import type { Refused } from "../saved"
import { cleanPage } from "./rich-text"

export type PageSaved =
  /** `page`: what stands there now, where another window's changes came in. */
  | { readonly revision: number; readonly page?: Page }
  /** Another window changed the same blocks; `theirs` is what it made of the page. */
  | { readonly clash: readonly string[]; readonly theirs: Page; readonly revision: number }
  | { readonly refused: string }

/** A page as typed, and as it was when typing began: null where that isn't known. */
export type TypedPage = { readonly page: Page; readonly from: Page | null }

export function readTyped(document: unknown, base: unknown, clean = cleanPage): TypedPage | Refused {
  try {
    return { page: clean(readPage(document)), from: base === undefined ? null : clean(readPage(base)) }
  } catch (error) {
    if (error instanceof PageError) return { refused: refusals.funnel.unsaved(error.message) }
    throw error
  }
}

/**
 * What is to be stored over `stored`, which is of revision `now`; `revision` is the one that typing began from.
 */
export function reconcilePage(
  typed: TypedPage,
  revision: number,
  stored: Page,
  now: number,
): { readonly write: Page } | Extract<PageSaved, { clash: unknown }> | Refused {
  if (now === revision) return { write: typed.page }
  if (!typed.from) return { refused: refusals.twoWindows.page }
  const both = mergePages(typed.from, typed.page, stored)
  return both.clashes.length ? { clash: both.clashes, theirs: stored, revision: now } : { write: both.merged }
}
