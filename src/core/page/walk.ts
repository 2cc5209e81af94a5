// Through the tree of a page's blocks: a block that holds others has them in `blocks`, whatever its kind.
import type { Block } from "./document"

/** What a block holds; null where it is of a kind that holds nothing. */
export function heldBy(b: Block): Block[] | null {
  return "blocks" in b ? b.blocks : null
}

/** The block with what it holds changed; itself where it holds nothing. */
export function holding(b: Block, change: (held: Block[]) => Block[]): Block {
  return "blocks" in b ? { ...b, blocks: change(b.blocks) } : b
}

/** What everybody sees of some blocks. */
export const openBlocks = (blocks: readonly Block[]): Block[] =>
  blocks.flatMap((b) => (b.seenBy ? [] : [holding(b, openBlocks)]))

/** Every block of the tree, in reading order, a block before what it holds. */
export function* allBlocks(blocks: readonly Block[]): Generator<Block> {
  for (const b of blocks) {
    yield b
    yield* allBlocks(heldBy(b) ?? [])
  }
}
