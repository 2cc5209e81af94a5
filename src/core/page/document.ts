// A page: a tree of blocks in a JSON document that carries its version. Every document comes through `readPage`.
import * as v from "valibot"
import { outcomes, type StepKind } from "../funnel/kinds"

const id = v.pipe(v.string(), v.regex(/^[a-z0-9]{1,16}$/))
const line = v.pipe(v.string(), v.maxLength(300))
const reference = v.pipe(v.number(), v.integer(), v.minValue(1))

const target = v.variant("to", [
  v.object({ to: v.literal("outcome"), outcome: v.picklist(Object.keys(outcomes) as (keyof typeof outcomes)[]) }),
  v.object({ to: v.literal("form") }),
  v.object({ to: v.literal("step"), step: reference }),
])

const leaves = [
  v.object({ id, kind: v.literal("headline"), text: line }),
  v.object({ id, kind: v.literal("text"), html: v.pipe(v.string(), v.maxLength(20_000)) }),
  v.object({ id, kind: v.literal("list"), items: v.pipe(v.array(line), v.maxLength(40)) }),
  v.object({ id, kind: v.literal("picture"), media: v.nullable(reference), alt: line }),
  v.object({ id, kind: v.literal("button"), says: line, leads: v.nullable(target) }),
  v.object({
    id,
    kind: v.literal("form"),
    says: line,
    askName: v.boolean(),
    consent: v.pipe(v.string(), v.maxLength(600)),
    // Double opt-in: what was joined begins only with the press in the mailbox. Pages from before had no choice.
    confirm: v.optional(v.boolean(), true),
    // Taken from pages of other sites, too, where the marketer has the same form.
    foreign: v.optional(v.boolean(), false),
  }),
  v.object({ id, kind: v.literal("lessons"), course: v.nullable(reference) }),
  v.object({ id, kind: v.literal("video"), media: v.nullable(reference), says: line }),
  v.object({ id, kind: v.literal("price"), offer: v.nullable(reference) }),
  v.object({
    id,
    kind: v.literal("checkout"),
    says: line,
    askName: v.boolean(),
    askCoupon: v.boolean(),
    bumps: v.pipe(v.array(v.object({ offer: reference, says: line })), v.maxLength(3)),
    // What they may agree to be written about; empty: they are not asked.
    consent: v.pipe(v.string(), v.maxLength(600)),
  }),
  v.object({ id, kind: v.literal("decision"), accept: line, decline: line }),
  v.object({ id, kind: v.literal("proof") }),
] as const

const block: v.GenericSchema<unknown, Block> = v.lazy(() =>
  v.variant("kind", [
    ...leaves,
    v.object({
      id,
      kind: v.literal("section"),
      tone: v.picklist(["plain", "tinted"]),
      blocks: v.pipe(v.array(block), v.maxLength(60)),
    }),
  ]),
)

const page = v.object({
  version: v.literal(1),
  title: v.pipe(v.string(), v.maxLength(120)),
  blocks: v.pipe(v.array(block), v.maxLength(120)),
})

export type Target = v.InferOutput<typeof target>
export type Leaf = v.InferOutput<(typeof leaves)[number]>
export type Section = { id: string; kind: "section"; tone: "plain" | "tinted"; blocks: Block[] }
export type Block = Leaf | Section
export type Page = { version: 1; title: string; blocks: Block[] }
export type BlockKind = Block["kind"]

export const blockNames: Record<BlockKind, string> = {
  headline: "headline",
  text: "text",
  list: "list",
  picture: "picture",
  button: "button",
  form: "form",
  lessons: "lesson list",
  video: "video",
  price: "price",
  checkout: "checkout form",
  decision: "yes or no",
  proof: "what was bought",
  section: "section",
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

/** Every block of the tree, in reading order, sections before what they hold. */
export function* allBlocks(blocks: readonly Block[]): Generator<Block> {
  for (const b of blocks) {
    yield b
    if (b.kind === "section") yield* allBlocks(b.blocks)
  }
}

/** Blocks that belong on pages of certain kinds only. */
const onlyOn: Partial<Record<BlockKind, readonly StepKind[]>> = {
  form: ["optin"],
  checkout: ["checkout"],
  decision: ["further"],
  proof: ["welcome"],
}

/** Which blocks make sense on a page of this kind. */
export function blocksFor(kind: StepKind): BlockKind[] {
  return (Object.keys(blockNames) as BlockKind[]).filter((k) => onlyOn[k]?.includes(kind) ?? true)
}
