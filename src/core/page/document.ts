// A page: a tree of blocks in a JSON document that carries its version. Every document comes through `readPage`.
import * as v from "valibot"
import { bandNames, firstScreens } from "../look/kind"
import { blockSchema } from "./block/list"
import { allBlocks } from "./walk"

export type { Block, BlockKind } from "./block/list"
export { allBlocks } from "./walk"

/** How a page's first screen is laid out, the band that it is, and how wide it is; not given: as the look has it. */
export const pageForm = v.object({
  first: v.optional(v.picklist(firstScreens)),
  ground: v.optional(v.picklist(bandNames)),
  width: v.optional(v.picklist(["text", "wide"])),
})
export type PageForm = v.InferOutput<typeof pageForm>

const page = v.object({
  version: v.literal(1),
  title: v.pipe(v.string(), v.maxLength(120)),
  blocks: v.pipe(v.array(blockSchema), v.maxLength(120)),
  ...pageForm.entries,
  /** What search engines and previews say of it; not given: its first words and its first picture. */
  description: v.optional(v.pipe(v.string(), v.maxLength(300))),
  picture: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1))),
})

export type Page = v.InferOutput<typeof page>

/** A page in another form. What is as the look has it isn't kept. */
export function wearing(page: Page, form: PageForm): Page {
  const { first: _, ground: __, width: ___, ...rest } = page
  return { ...rest, ...Object.fromEntries(Object.entries(form).filter(([, chosen]) => chosen)) }
}

export class PageError extends Error {}

/** The deepest a section may stand within sections. */
const deepest = 4

/**
 * Checks a page document. Throws PageError, which names the place, for another version, another shape, the same id
 * twice, or sections within sections beyond four.
 */
export function readPage(json: unknown): Page {
  const version = (json as { version?: unknown } | null)?.version
  if (version !== 1) throw new PageError(`this page is of version ${JSON.stringify(version)}; version 1 is understood`)
  if (depth((json as { blocks?: unknown }).blocks) > deepest) throw new PageError(`sections go deeper than ${deepest}`)
  const read = v.safeParse(page, json)
  if (!read.success) {
    const issue = read.issues[0]
    throw new PageError(`${v.getDotPath(issue) ?? "page"}: ${issue.message}`)
  }
  const seen = new Set<string>()
  for (const b of allBlocks(read.output.blocks)) {
    if (seen.has(b.id)) throw new PageError(`the block ${b.id} stands on the page twice`)
    seen.add(b.id)
  }
  return read.output
}

function depth(blocks: unknown): number {
  if (!Array.isArray(blocks)) return 0
  return 1 + Math.max(0, ...blocks.map((b) => depth((b as { blocks?: unknown } | null)?.blocks)))
}
