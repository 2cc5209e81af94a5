// Where a block that is dragged would be put, from where the blocks of a page stand.
import { blockKinds } from "./block/list"
import type { Block } from "./document"
import type { Spot } from "./edit"
import { heldBy } from "./walk"

/** Where something stands, in pixels; both edges may lie out of view. */
export type Stands = { readonly left: number; readonly top: number; readonly right: number; readonly bottom: number }

/** A spot, and the line that shows it: lying, or upright between things that stand side by side. */
export type SpotShown = { readonly spot: Spot; readonly line: Stands }

/** So near the edge of a block that holds others, something is put beside it, not into it. */
const edge = 14

/**
 * The spot that is nearest to a point, for blocks of the page that are dragged; null: nothing stands there. `x` is null where the point is
 * beside the page, so that only its height counts. What holds others isn't put into another.
 */
export function spotAt(
  blocks: readonly Block[],
  moved: readonly string[],
  { x, y }: { readonly x: number | null; readonly y: number },
  stands: ReadonlyMap<string, Stands>,
): SpotShown | null {
  const holder = (b: Block | undefined) => b !== undefined && heldBy(b) !== null
  const alone = moved.some((id) => holder(find(blocks, id)))
  const among = (list: readonly Block[], upright: boolean): SpotShown | null => {
    const placed = list.flatMap((b) => {
      const at = stands.get(b.id)
      return at && !moved.includes(b.id) ? [{ b, at }] : []
    })
    for (const { b, at } of placed) {
      const held = heldBy(b)
      if (!held || alone || y < at.top + edge || y > at.bottom - edge || (x !== null && (x < at.left || x > at.right)))
        continue
      const inside = among(held, x !== null && blockKinds[b.kind].sideBySide === true)
      const foot = { ...at, top: at.bottom - 3 }
      return inside ?? { spot: { inside: b.id }, line: foot }
    }
    const away = ({ left, top, right, bottom }: Stands) =>
      Math.hypot(x === null ? 0 : Math.max(left - x, 0, x - right), Math.max(top - y, 0, y - bottom))
    const [nearest] = placed.sort((a, b) => away(a.at) - away(b.at))
    if (!nearest) return null
    const { b, at } = nearest
    const after = upright ? x! > (at.left + at.right) / 2 : y > (at.top + at.bottom) / 2
    const line = upright
      ? { ...at, left: after ? at.right : at.left - 3, right: after ? at.right + 3 : at.left }
      : { ...at, top: after ? at.bottom : at.top - 3, bottom: after ? at.bottom + 3 : at.top }
    return { spot: { beside: b.id, after }, line }
  }
  return among(blocks, false)
}

function find(blocks: readonly Block[], id: string): Block | undefined {
  for (const b of blocks) {
    const found = b.id === id ? b : find(heldBy(b) ?? [], id)
    if (found) return found
  }
}
