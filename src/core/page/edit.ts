// Changes to the tree of a page. Each takes a page and gives a new one; what is not there is left as it was.
import * as v from "valibot"
import { blockKinds, blockSchema } from "./block/list"
import { allBlocks, type Block, type BlockKind, type Page } from "./document"
import { heldBy, holding } from "./walk"

/** A new block of a kind, with words that show what belongs there. */
export function newBlock(kind: BlockKind, id: string): Block {
  return blockKinds[kind].fresh(id)
}

/** An id that no block of the page has. */
export function freeId(page: Page): string {
  return freeIds(page).next().value
}

function* freeIds(page: Page): Generator<string, never> {
  const taken = new Set([...allBlocks(page.blocks)].map((b) => b.id))
  for (let n = taken.size + 1; ; n++) if (!taken.has(`b${n}`)) yield `b${n}`
}

/** Puts a block after the one named, in the same list; at the end of the page where that is null or gone. */
export const insertAfter = (page: Page, after: string | null, added: Block): Page =>
  insertAt(page, after === null ? null : { beside: after, after: true }, added)

/** Where a block is put: before or after another, in the same list, or inside one that holds others, at its end. */
export type Spot = { readonly beside: string; readonly after: boolean } | { readonly inside: string }

/**
 * Moves a block to a spot. One that holds others isn't put into another, and nothing into itself: the page stays as it was then, as it does
 * where a spot is gone.
 */
export function moveTo(page: Page, id: string, to: Spot): Page {
  const all = [...allBlocks(page.blocks)]
  const moved = all.find((b) => b.id === id)
  const target = "inside" in to ? to.inside : to.beside
  if (!moved || !all.some((b) => b.id === target) || [...allBlocks([moved])].some((b) => b.id === target)) return page
  const inside = "inside" in to || !page.blocks.some((b) => b.id === target)
  if (inside && heldBy(moved)) return page
  return insertAt(removeBlock(page, id), to, moved)
}

/** Puts a block at a spot; at the end of the page where that is null or gone. */
export function insertAt(page: Page, to: Spot | null, added: Block): Page {
  let done = false
  const target = to && ("inside" in to ? to.inside : to.beside)
  const walk = (blocks: Block[]): Block[] =>
    blocks.flatMap((b): Block[] => {
      const here = holding(b, walk)
      if (!to || b.id !== target) return [here]
      done = true
      if ("inside" in to) return [holding(here, (held) => [...held, added])]
      return to.after ? [here, added] : [added, here]
    })
  const blocks = walk(page.blocks)
  return { ...page, blocks: done ? blocks : [...blocks, added] }
}

/** The same block once more, below itself; null: it is gone. Whatever it holds comes along, each with an id of its own. */
export function duplicateBlock(page: Page, id: string): { readonly page: Page; readonly id: string } | null {
  const block = [...allBlocks(page.blocks)].find((b) => b.id === id)
  if (!block) return null
  const [copy] = withFreeIds(page, [block])
  return { page: insertAfter(page, id, copy!), id: copy!.id }
}

/** Blocks, and what they hold, with ids that no block of the page has. */
export function withFreeIds(page: Page, blocks: readonly Block[]): Block[] {
  const ids = freeIds(page)
  const anew = (b: Block): Block => holding({ ...b, id: ids.next().value }, (held) => held.map(anew))
  return blocks.map(anew)
}

export function removeBlock(page: Page, id: string): Page {
  const walk = (blocks: Block[]): Block[] => blocks.filter((b) => b.id !== id).map((b) => holding(b, walk))
  return { ...page, blocks: walk(page.blocks) }
}

/** Changes what a block says; its id and kind stay. */
export function changeBlock(page: Page, id: string, change: Partial<Block>): Page {
  return withBlock(page, id, (b) => ({ ...b, ...change, id: b.id, kind: b.kind }) as Block)
}

/** A page with another in one block's place. */
export function withBlock(page: Page, id: string, other: (block: Block) => Block): Page {
  const walk = (blocks: Block[]): Block[] => blocks.map((b) => (b.id === id ? other(b) : holding(b, walk)))
  return { ...page, blocks: walk(page.blocks) }
}

/**
 * Writes a text of a block; `path` is where it stands within the block ("items.0.title"). What the block doesn't take leaves the page as it
 * was.
 */
export function sayInBlock(page: Page, id: string, path: string, says: string): Page {
  const block = [...allBlocks(page.blocks)].find((b) => b.id === id)
  const said = block && withText(block, path.split("."), says)
  return v.is(blockSchema, said) ? changeBlock(page, id, said as Block) : page
}

/** Where a text stands after a change, so that it is written on there. */
type WithPath = { readonly page: Page; readonly path: string }

/** An empty point below the one at `path`; null: it is no point of a list, or the list takes no more. */
export function pointBelow(page: Page, id: string, path: string): WithPath | null {
  return withPoints(page, id, path, (points, at) => [points.toSpliced(at + 1, 0, ""), at + 1])
}

/** Without the point at `path`; null: it is no point of a list, or the only one. */
export function withoutPoint(page: Page, id: string, path: string): WithPath | null {
  return withPoints(page, id, path, (points, at) =>
    points.length > 1 ? [points.toSpliced(at, 1), Math.max(0, at - 1)] : [points, at],
  )
}

function withPoints(
  page: Page,
  id: string,
  path: string,
  change: (points: readonly string[], at: number) => readonly [readonly string[], number],
): WithPath | null {
  const block = [...allBlocks(page.blocks)].find((b) => b.id === id)
  const [, list, n] = /^(\w+)\.(\d+)$/.exec(path) ?? []
  const points = list && (block as unknown as Record<string, unknown> | undefined)?.[list]
  if (!Array.isArray(points) || typeof points[Number(n)] !== "string") return null
  const [changed, at] = change(points, Number(n))
  const said = { ...block, [list!]: changed }
  return changed !== points && v.is(blockSchema, said)
    ? { page: changeBlock(page, id, said), path: `${list}.${at}` }
    : null
}

function withText(of: unknown, [key, ...rest]: readonly string[], says: string): unknown {
  if (key === undefined) return says
  if (Array.isArray(of)) return of.map((one, n) => (String(n) === key ? withText(one, rest, says) : one))
  return { ...(of as object), [key]: withText((of as Record<string, unknown>)[key], rest, says) }
}

/**
 * Moves a block one place up or down in reading order: past a neighbour, into a section that is the neighbour (at its
 * near end), or out of its own section at the end.
 */
export function moveBlock(page: Page, id: string, way: "up" | "down"): Page {
  const moved = [...allBlocks(page.blocks)].find((b) => b.id === id)
  if (!moved) return page
  const walk = (blocks: Block[], inside: boolean): { blocks: Block[]; out: boolean } => {
    const at = blocks.findIndex((b) => b.id === id)
    if (at >= 0) {
      const rest = blocks.filter((b) => b.id !== id)
      const to = way === "up" ? at - 1 : at + 1
      if (to < 0 || to >= blocks.length) return inside ? { blocks: rest, out: true } : { blocks, out: false }
      const neighbour = blocks[to]!
      const held = heldBy(neighbour)
      if (held && !heldBy(moved)) {
        const inside = way === "up" ? [...held, moved] : [moved, ...held]
        return { blocks: rest.map((b) => (b.id === neighbour.id ? holding(neighbour, () => inside) : b)), out: false }
      }
      rest.splice(to, 0, moved)
      return { blocks: rest, out: false }
    }
    const result: Block[] = []
    for (const b of blocks) {
      const held = heldBy(b)
      if (!held) {
        result.push(b)
        continue
      }
      const inner = walk(held, true)
      const section = holding(b, () => inner.blocks)
      if (inner.out) result.push(...(way === "up" ? [moved, section] : [section, moved]))
      else result.push(section)
    }
    return { blocks: result, out: false }
  }
  return { ...page, blocks: walk(page.blocks, false).blocks }
}
