// Two changes of the same page, merged by block: what a block says, and where the blocks stand.
import { mergeFields } from "../merge"
import { allBlocks, type Block, type Page } from "./document"
import { heldBy, holding } from "./walk"

export type PageMerge = {
  /** Both changes together; what clashes is as mine has it. */
  readonly merged: Page
  /** Ids of blocks that both changed differently; "title", "first", "ground", "width" and "order" for the page's own. */
  readonly clashes: readonly string[]
}

/**
 * Merges two pages that both come from `base`. Where only one side has put in, moved or removed blocks, its order holds;
 * where both have, and differently, that is a clash. A block that one side removed and the other left as it was is gone.
 */
export function mergePages(base: Page, mine: Page, theirs: Page): PageMerge {
  const clashes: string[] = []
  const own = mergeFields(ownOf(base), ownOf(mine), ownOf(theirs))
  clashes.push(...own.clashes)
  const [of, my, their] = [orderOf(base.blocks), orderOf(mine.blocks), orderOf(theirs.blocks)]
  const order = my === of ? theirs : mine
  if (my !== of && their !== of && my !== their) clashes.push("order")

  const [was, ours, others] = [contents(base), contents(mine), contents(theirs)]
  const content = new Map<string, Block>()
  for (const b of allBlocks(order.blocks)) {
    const [before, me, them] = [was.get(b.id), ours.get(b.id), others.get(b.id)]
    if (!before || !me || !them) {
      content.set(b.id, b)
      continue
    }
    const both = mergeFields<Block>(before, me, them)
    if (both.clashes.length) clashes.push(b.id)
    content.set(b.id, both.merged)
  }
  // What one side removed, the other may have rewritten: that is told, not lost.
  for (const [id, before] of was) {
    const [me, them] = [ours.get(id), others.get(id)]
    const kept = me ?? them
    if (content.has(id) || !kept || (me && them)) continue
    if (JSON.stringify(kept) !== JSON.stringify(before)) clashes.push(id)
  }
  const build = (blocks: readonly Block[]): Block[] =>
    blocks.map((b) => {
      const said = content.get(b.id) ?? b
      const held = heldBy(b)
      return held ? holding(said, () => build(held)) : said
    })
  return { merged: { ...own.merged, blocks: build(order.blocks) }, clashes }
}

/** What a page says beside its blocks. */
const ownOf = ({ blocks: _, ...own }: Page) => own

/** Which blocks stand where, without what they say. */
function orderOf(blocks: readonly Block[]): string {
  return blocks
    .map((b) => {
      const held = heldBy(b)
      return held ? `${b.id}[${orderOf(held)}]` : b.id
    })
    .join(" ")
}

/** Each block by its id, a section without what it holds. */
function contents(page: Page): Map<string, Block> {
  return new Map([...allBlocks(page.blocks)].map((b) => [b.id, holding(b, () => [])]))
}
