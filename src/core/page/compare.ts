// What is different between two versions of a page, in words; and one of them brought back by itself.
import { blockKinds } from "./block/list"
import type { Block, Page } from "./document"
import { insertAt, moveTo, removeBlock, type Spot, withBlock } from "./edit"
import { allBlocks, heldBy, holding } from "./walk"

export type Difference = {
  /** The block that it is about; null: the page itself. */
  readonly block: string | null
  readonly is: "added" | "removed" | "changed" | "moved" | "page"
  readonly says: string
}

type Placed = { readonly block: Block; readonly parent: string | null; readonly earlier: readonly string[] }

function placed(blocks: readonly Block[], parent: string | null = null): Map<string, Placed> {
  return new Map(
    blocks.flatMap((block, n) => [
      [block.id, { block, parent, earlier: blocks.slice(0, n).map((b) => b.id) }] as const,
      ...placed(heldBy(block) ?? [], block.id),
    ]),
  )
}

const bare = (b: Block) => JSON.stringify(holding(b, () => []))
const quoted = (b: Block) => {
  const says = blockKinds[b.kind].line(b).trim()
  return says
    ? `${blockKinds[b.kind].name} “${says.length > 60 ? `${says.slice(0, 59)}…` : says}”`
    : blockKinds[b.kind].name
}

/** What was done to a page since it was as it was before, in the order in which it stands there; what was added comes last. */
export function compare(before: Page, now: Page): Difference[] {
  const [was, is] = [placed(before.blocks), placed(now.blocks)]
  const found: Difference[] = []
  const { blocks: _, ...wasPage } = before
  const { blocks: __, ...isPage } = now
  if (wasPage.title !== isPage.title)
    found.push({ block: null, is: "page", says: `Title changed from “${before.title}” to “${now.title}”` })
  else if (JSON.stringify(wasPage, Object.keys(wasPage).sort()) !== JSON.stringify(isPage, Object.keys(isPage).sort()))
    found.push({ block: null, is: "page", says: "What is set of the page changed" })
  const stays = unmoved(was, is)
  for (const [id, { block }] of was) {
    const there = is.get(id)
    if (!there) found.push({ block: id, is: "removed", says: `${quoted(block)} removed` })
    else {
      if (bare(block) !== bare(there.block))
        found.push({
          block: id,
          is: "changed",
          says:
            quoted(block) === quoted(there.block)
              ? `${quoted(block)} changed`
              : `${quoted(block)} changed to ${quoted(there.block)}`,
        })
      if (!stays.has(id)) found.push({ block: id, is: "moved", says: `${quoted(there.block)} moved` })
    }
  }
  for (const [id, { block }] of is)
    if (!was.has(id)) found.push({ block: id, is: "added", says: `${quoted(block)} added` })
  return found.map((d) => ({ ...d, says: d.says.replace(/^./, (c) => c.toUpperCase()) }))
}

/** Those that stand in the same list and in the same order in both: the most of each list that do. */
function unmoved(was: ReadonlyMap<string, Placed>, is: ReadonlyMap<string, Placed>): Set<string> {
  const stays = new Set<string>()
  for (const parent of new Set([...was.values()].map((p) => p.parent))) {
    const there = [...was].flatMap(([id, p]) => (p.parent === parent && is.get(id)?.parent === parent ? [id] : []))
    for (const id of longestRising(there, (x) => is.get(x)!.earlier.length)) stays.add(id)
  }
  return stays
}

/** The longest part of a list that rises, by a number of each. */
function longestRising(list: readonly string[], of: (id: string) => number): string[] {
  const best: string[][] = []
  for (const id of list) {
    const before = best.filter((b) => of(b.at(-1)!) < of(id)).sort((a, b) => b.length - a.length)[0] ?? []
    best.push([...before, id])
  }
  return best.sort((a, b) => b.length - a.length)[0] ?? []
}

/** A page with one difference taken back; what it was about and is gone by now stays as it is. */
export function bringBack(now: Page, before: Page, d: Difference): Page {
  if (d.block === null) return { ...before, blocks: now.blocks }
  const was = placed(before.blocks).get(d.block)
  if (d.is === "added") return removeBlock(now, d.block)
  if (!was) return now
  const is = placed(now.blocks)
  if (d.is === "changed") {
    return withBlock(now, d.block, (b) => holding(was.block, () => heldBy(b) ?? []))
  }
  const parent = was.parent !== null && is.has(was.parent) ? was.parent : null
  const earlier = was.earlier.findLast((id) => is.get(id)?.parent === parent)
  const first = [...is].find(([id, p]) => p.parent === parent && id !== d.block)?.[0]
  const spot: Spot | null =
    earlier !== undefined
      ? { beside: earlier, after: true }
      : first !== undefined
        ? { beside: first, after: false }
        : parent !== null
          ? { inside: parent }
          : null
  if (d.is === "moved") return spot ? moveTo(now, d.block, spot) : now
  // What it held and is elsewhere by now stays there.
  const added = holding(was.block, (held) => held.filter((b) => ![...allBlocks([b])].some((x) => is.has(x.id))))
  return is.has(d.block) ? now : insertAt(now, spot, added)
}
