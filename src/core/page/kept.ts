// Kept sections: blocks that are written once and stand on many pages.
import { blockKinds, blocksFor } from "./block/list"
import type { Block, BlockKind, Page } from "./document"
import { allBlocks, holding } from "./walk"

/** What pages show of each kept section, by its number. */
export type KeptSections = ReadonlyMap<number, readonly Block[]>

/** The kinds of block that a kept section may hold: those that make sense on any page, but no kept section. */
export const keptBlocks: readonly BlockKind[] = blocksFor().filter((k) => !blockKinds[k].isKept)

/** The numbers of the kept sections that stand on a page. */
export function keptOn(page: Page): number[] {
  return [...new Set([...allBlocks(page.blocks)].flatMap((b) => ("section" in b ? (b.section ?? []) : [])))]
}

/**
 * A page with what its kept sections hold in their place, for writing and checking, not for keeping: what comes from one says so (`within`),
 * and is shown to whom and where the kept section is. One that isn't there any more is one of which nothing is said.
 */
export function fillKept(page: Page, sections: KeptSections | undefined): Page {
  if (!sections) return page
  const put = (blocks: readonly Block[]): Block[] =>
    blocks.flatMap((b): Block[] => {
      if (!("section" in b) || b.section === null) return [holding(b, put)]
      return sections.get(b.section)?.map((inner) => inside(inner, b)) ?? [{ ...b, section: null }]
    })
  return { ...page, blocks: put(page.blocks) }
}

function inside(block: Block, kept: Block): Block {
  const { on = block.on, seenBy = block.seenBy } = kept
  return { ...named(block, kept.id), ...(on && { on }), ...(seenBy && { seenBy }) }
}

const named = (block: Block, within: string): Block =>
  holding({ ...block, id: `${within}-${block.id}`, within }, (held) => held.map((b) => named(b, within)))
