// Blocks on the clipboard, as JSON for another page of ours; what is pasted is read by the blocks' own schemas.
import * as v from "valibot"
import { blockKinds, blockSchema } from "./block/list"
import type { Block, BlockKind } from "./document"
import { referredBy, renumbered } from "./renumber"
import { allBlocks } from "./walk"

/** The type by which it stands on the clipboard, beside HTML and text. */
export const copiedType = "application/x-heron-blocks+json"

const schema = v.object({
  version: v.literal(1),
  /** Host of the school that it was copied in: what blocks refer to is known there alone. */
  school: v.string(),
  blocks: v.pipe(v.array(blockSchema), v.minLength(1), v.maxLength(120)),
})

export function copied(blocks: readonly Block[], school: string): string {
  return JSON.stringify({ version: 1, school, blocks })
}

/**
 * What was copied, as far as it can stand where only some kinds do, in a school by its host; `left`: what can't, in words. Null: it is nothing
 * of ours, or of a later version.
 */
export function readCopied(
  text: string,
  at: { readonly school: string; readonly kinds: readonly BlockKind[] },
): { readonly blocks: Block[]; readonly left: string[] } | null {
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch {
    return null
  }
  const read = v.safeParse(schema, json)
  if (!read.success) return null
  const left: string[] = []
  const blocks = read.output.blocks.flatMap((b) => {
    const all = [...allBlocks([b])]
    const other = all.find((x) => !at.kinds.includes(x.kind))
    if (other) {
      left.push(`${blockKinds[other.kind].name}: it can't stand here`)
      return []
    }
    const away = read.output.school !== at.school && referredBy(b).length > 0
    if (away) left.push(`${blockKinds[b.kind].name}: what it refers to isn't in this school, and must be chosen anew`)
    return away ? [renumbered(b, () => null)] : [b]
  })
  return { blocks, left }
}

/** What blocks say, one after the other, as plain text. */
export const copiedText = (blocks: readonly Block[]): string =>
  [...allBlocks(blocks)]
    .map((b) => blockKinds[b.kind].text?.(b) ?? "")
    .filter(Boolean)
    .join("\n\n")
