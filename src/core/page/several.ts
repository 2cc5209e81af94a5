// Acts on several blocks of a page at once.
import type { Block, Page } from "./document"
import { insertAfter, moveBlock, moveTo, removeBlock, type Spot, withFreeIds } from "./edit"
import { allBlocks } from "./walk"

/** The blocks of these ids that are there, in reading order; without what another of them holds. */
export function chosenOf(page: Page, ids: readonly string[]): Block[] {
  const among = [...allBlocks(page.blocks)].filter((b) => ids.includes(b.id))
  const held = new Set(among.flatMap((b) => [...allBlocks([b])].slice(1)).map((b) => b.id))
  return among.filter((b) => !held.has(b.id))
}

const idsOf = (page: Page, ids: readonly string[]) => chosenOf(page, ids).map((b) => b.id)

export const removeAll = (page: Page, ids: readonly string[]): Page => ids.reduce(removeBlock, page)

/** Puts blocks one after the other after the one named; at the end of the page where that is null or gone. */
export const insertAllAfter = (page: Page, after: string | null, blocks: readonly Block[]): Page =>
  blocks.reduce((p, b, n) => insertAfter(p, n ? blocks[n - 1]!.id : after, b), page)

/** The same blocks once more, below the last of them; the ids of the copies. */
export function duplicateAll(page: Page, ids: readonly string[]): { readonly page: Page; readonly ids: string[] } {
  const blocks = chosenOf(page, ids)
  const copies = withFreeIds(page, blocks)
  return { page: insertAllAfter(page, blocks.at(-1)?.id ?? null, copies), ids: copies.map((b) => b.id) }
}

/** Moves blocks one place up or down, each past what is no other of them; where the first of them can't, none is moved. */
export function moveAll(page: Page, ids: readonly string[], way: "up" | "down"): Page {
  const inOrder = idsOf(page, ids)
  if (way === "down") inOrder.reverse()
  let moved = page
  for (const [n, id] of inOrder.entries()) {
    const next = moveBlock(moved, id, way)
    if (n === 0 && JSON.stringify(next.blocks) === JSON.stringify(page.blocks)) return page
    moved = next
  }
  return moved
}

/** Moves blocks to a spot, one after the other. What can't stand there stays where it is. */
export function moveAllTo(page: Page, ids: readonly string[], to: Spot): Page {
  let [moved, spot] = [page, to]
  for (const id of idsOf(page, ids)) {
    const next = moveTo(moved, id, spot)
    if (next === moved) continue
    moved = next
    spot = { beside: id, after: true }
  }
  return moved
}
