// The kinds of block, and what is asked of them without knowing which one it is.

import * as v from "valibot"
import { html } from "../../html"
import { type Ref, refTo } from "../../reference"
import { allBlocks } from "../walk"
import { Writer } from "../writer"
import { announcement } from "./announcement"
import { aside } from "./aside"
import { asksWords } from "./asks-words"
import { assignment } from "./assignment"
import { audio } from "./audio"
import { button } from "./button"
import { catalogue } from "./catalogue"
import { checkout } from "./checkout"
import { type BoxOf, box, boxSchema, type ColumnsOf, columns, columnsSchema } from "./columns"
import { comparison } from "./comparison"
import { countdown } from "./countdown"
import { decision } from "./decision"
import { divider } from "./divider"
import { download } from "./download"
import { embed } from "./embed"
import { figures } from "./figures"
import { form } from "./form"
import { gallery } from "./gallery"
import { guarantee } from "./guarantee"
import { headline } from "./headline"
import { kept } from "./kept"
import { type BlockAt, type BlockModule, type ShownTo, shownTo } from "./kind"
import { lessons } from "./lessons"
import { numbered } from "./numbered"
import { outcomes } from "./outcomes"
import { picture } from "./picture"
import { player } from "./player"
import { points } from "./points"
import { price } from "./price"
import { proof } from "./proof"
import { questions } from "./questions"
import { quiz } from "./quiz"
import { quotes } from "./quotes"
import { reach } from "./reach"
import { recommend } from "./recommend"
import { replay } from "./replay"
import { seat } from "./seat"
import { type SectionOf, section, sectionSchema } from "./section"
import { signature } from "./signature"
import { survey } from "./survey"
import { teacher } from "./teacher"
import { text } from "./text"
import { video } from "./video"

const leaves = {
  headline,
  text,
  list: points,
  picture,
  button,
  form,
  lessons,
  video,
  price,
  checkout,
  decision,
  proof,
  seat,
  replay,
  divider,
  player,
  audio,
  download,
  quiz,
  survey,
  recommend,
  assignment,
  embed,
  announcement,
  catalogue,
  "asks-words": asksWords,
  aside,
  comparison,
  countdown,
  figures,
  gallery,
  guarantee,
  kept,
  numbered,
  outcomes,
  questions,
  quotes,
  reach,
  signature,
  teacher,
} as const

export type Leaf = { [K in keyof typeof leaves]: v.InferOutput<(typeof leaves)[K]["schema"]> }[keyof typeof leaves]
export interface Section extends Omit<SectionOf<unknown>, "blocks"> {
  blocks: Block[]
}
interface Columns extends Omit<ColumnsOf<unknown>, "blocks"> {
  blocks: Block[]
}
interface Box extends Omit<BoxOf<unknown>, "blocks"> {
  blocks: Block[]
}
export type Block = (Leaf | Section | Columns | Box) & ShownTo
export type BlockKind = Block["kind"]

/** Each kind by its name; a block is handed to its own kind alone. */
export const blockKinds = { ...leaves, section, columns, box } as unknown as Readonly<
  Record<BlockKind, BlockModule<Block>>
>

export const blockSchema: v.GenericSchema<unknown, Block> = v.lazy(() =>
  v.variant("kind", [
    ...[
      ...Object.values(leaves).map((m) => m.schema),
      sectionSchema(blockSchema),
      columnsSchema(blockSchema),
      boxSchema(blockSchema),
    ].map((schema) => v.object({ ...(schema as v.ObjectSchema<v.ObjectEntries, undefined>).entries, ...shownTo })),
  ] as never),
)

/** Which blocks make sense on a page that asks for some of its own. */
export function blocksFor(asked: readonly BlockKind[] = []): BlockKind[] {
  return (Object.keys(blockKinds) as BlockKind[]).filter((k) => !blockKinds[k].onlyWhere || asked.includes(k))
}

/** Which blocks make sense in a lesson. */
export const lessonBlocks: readonly BlockKind[] = (Object.keys(blockKinds) as BlockKind[]).filter(
  (k) => blockKinds[k].inLessons,
)

export function refsOfBlock(b: Block): Ref[] {
  return [...blockKinds[b.kind].refs(b), ...refTo("segment", b.seenBy?.segment, "shows a block to it")]
}

/** Everything that a page's blocks refer to. */
export const refsOfPage = (page: { readonly blocks: readonly Block[] }): Ref[] =>
  [...allBlocks(page.blocks)].flatMap(refsOfBlock)

/** A block with its rich text sanitised; what it holds stays as it is. */
export function cleanBlock(b: Block, rich: (html: string) => string): Block {
  return (blockKinds[b.kind] as BlockModule<Leaf & { kind: "headline" }>).clean?.(b as never, rich) ?? b
}

/** Where blocks are written, whichever they are. */
export type WrittenAt = Omit<BlockAt, "mark" | "editing" | "says" | "rich">

/** Writes a block and what it holds: for whom it is, where it says so; the editor shows it in any case. */
export function writeBlock(out: Writer, b: Block, at: WrittenAt): void {
  if (!b.seenBy || at.context.release === 0) {
    writeShown(out, b, at)
    return
  }
  const own = new Writer()
  writeShown(own, b, at)
  out.piece({ seenBy: b.seenBy, pieces: own.pieces })
}

function writeShown(out: Writer, b: Block, at: WrittenAt): void {
  // The editor finds a block by this id when somebody clicks on it; a visitor's page does not need it.
  const editing = at.context.release === 0
  const on = b.on && html` data-on="${b.on}"`
  const mark = html`${editing && html` data-block="${b.within ?? b.id}"`}${on}`
  const held = "blocks" in b ? b.blocks : null
  // What comes from a kept section is written there.
  const here = editing && !b.within
  const says = (path: string) => html`${here && html` data-says="${b.id} ${path}"`}`
  const rich = (path: string) => html`${here && html` data-rich="${b.id} ${path}"`}`
  const write = (to: Writer) => blockKinds[b.kind].html(to, b, { ...at, mark, editing, says, rich })
  if (on) {
    const own = new Writer()
    write(own)
    // What is made anew for each visit has no element of its own to carry it.
    const carried = own.pieces.some((p) => typeof p === "string" && p.includes(on.text))
    if (!carried) out.text(html`<div${on}>`)
    for (const p of own.pieces) out.piece(p)
    if (!carried) out.text(html`</div>`)
  } else write(out)
  if (held === null) return
  for (const inner of held) writeBlock(out, inner, at)
  out.text(html`</div>`)
}
