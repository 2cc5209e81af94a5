// What there is to know of a kind of block: its name, its shape, how it begins, its HTML, and what can be wrong with it.

import * as v from "valibot"
import type { CourseCard } from "../../course/card"
import type { Finding, FoundAt } from "../../finding"
import type { Html } from "../../html"
import type { SellingContext } from "../../offer/finding"
import type { Ref } from "../../reference"
import type { BlockContext } from "../compile"
import type { scripts } from "../scripts"
import type { OfferCard } from "../selling"
import type { SeenBy, Writer } from "../writer"

/** Where a block is being written. */
export type BlockAt = {
  /** Where its form goes, without the leading slash. */
  readonly path: string
  /** The courses that it may list. */
  readonly courses: readonly CourseCard[]
  readonly context: BlockContext
  /** Attributes of its outermost element: by which the editor finds it, and where it is shown. */
  readonly mark: Html
  /** For an element that holds just this text of the block, in the editor: by which it is written where it stands ("items.0.title"). */
  says(path: string): Html
  /** The same of one that holds rich text. */
  rich(path: string): Html
  /** It is drawn for the editor, which shows where something is still to come. */
  readonly editing: boolean
  readonly state: {
    headlines: number /** How wide a picture of the first screen is shown; null: below it. */
    first: "full" | "half" | null
  }
  /** It stands in a lesson, whose parts are made for each learner. */
  readonly lesson?: true
  /** The webinar that the step is about, or null. */
  readonly webinar: number | null
  /** Whether a seat at it is taken here. */
  readonly takesSeat: boolean
  /** The offer whose affiliates sign up here, or null. */
  readonly recruits: number | null
  /** What the step sells, for a preview, and the way to pay it is shown with. */
  readonly sold: { readonly card: OfferCard | undefined; readonly way: OfferCard["ways"][number] | undefined }
  /** Where a button leads, as an address, or null where it leads nowhere. */
  address(target: ButtonTarget | null): string | null
}

/** On which page a block is checked: a step of a funnel, and what is sold. */
export type CheckAt = {
  readonly step: FoundAt
  readonly funnel: { readonly name: string }
  readonly selling: SellingContext
  /** Where a button leads, as an address, or null where it leads nowhere. */
  address(target: ButtonTarget | null): string | null
  /** Every offer that the funnel sells, by number. */
  readonly soldHere: ReadonlySet<number>
}

/** What there is to know for what a block is to programs. Addresses are of `originHere` until the page is answered. */
export type DataAbout = Pick<BlockContext, "pictures" | "videos"> & {
  readonly courses: readonly CourseCard[]
  readonly school: string
}

/** Where a block is being written in an e-mail. */
export type MailAt = Pick<BlockAt, "mark" | "says" | "rich" | "editing" | "courses"> & {
  readonly teachers: ReadonlyMap<
    number,
    { readonly name: string; readonly about: string; readonly media: number | null }
  >
  /** A picture by its number, at most so many pixels wide; nothing where there is none. */
  picture(media: number | null, alt: string, widest?: number): Html
  /** What is said of an offer when the e-mail is sent: its name, what it costs, until when; or what stands there otherwise. */
  offer(says: "offer" | "price" | "ends", offer: number, otherwise: string): Html
  /** Where a button leads, as a link is kept, or null where it leads nowhere. */
  href(target: ButtonTarget | null): string | null
  /** How wide it can be, pixels. */
  readonly width: number
}

type Facts<B> = {
  readonly name: string
  readonly schema: v.GenericSchema<unknown, B>
  /** A new one, with words that show what belongs there. */
  fresh(id: string): B
  /** It stands only on pages of the kinds of step that ask for it. */
  readonly onlyWhere?: "asked"
  /** Whether it may stand in a lesson. */
  readonly inLessons?: true
  /** What it is where everything is there to be taken away: a file, or something that goes with files. */
  readonly amongFiles?: "file" | "beside"
  /** It stands for a section that is kept, which holds none itself. */
  readonly isKept?: true
  html(out: Writer, block: B, at: BlockAt): void
  /** The same for an e-mail, which carries no other kinds: in what mail programs understand. `held`: what it holds, and how wide each can be. */
  mail?(block: B, at: MailAt, held: (width: number) => readonly Html[]): Html
  /** Its place in a first screen, where it has one: its title, among its words, what is shown beside them, or the form. */
  readonly inFirst?: "title" | "words" | "show" | "form"
  /** The page that it stands on is a wide one, where nothing else is said. */
  readonly wide?: true
  /** What it holds stands side by side. */
  readonly sideBySide?: true
  /** It stands above everything, wherever it is put. */
  readonly atTop?: true
  /** It stands at the end of what follows the first screen, and no earlier. */
  readonly follows?: true
  /** The host that it shows something of, once a visitor asks for it; null: none. */
  frames?(block: B): string | null
  /** The program that it needs on a page, where there is none of the page's own. */
  program?(block: B): keyof typeof scripts | null
  /** Style rules for pages on which it stands, minified, each once however many kinds bring it. */
  readonly css?: readonly string[]
  refs(block: B): Ref[]
  /** What it still leaves to be said, in words, or null. */
  gap(block: B): string | null
  /** Visitors see nothing of it while it isn't written: a gap is said, and stops nothing. */
  readonly unseen?: true
  /** What mends a gap. */
  readonly gapSays?: string
  check?(block: B, at: CheckAt): Finding[]
  /** What it says, as plain text. */
  text?(block: B): string
  /** What it is for programs that read (schema.org); null: nothing. */
  data?(block: B, about: DataAbout): object | null
  /** A short line for the editor's list. */
  line(block: B): string
  /** What a visitor does by it: two of the same are one action, twice. Null or not given: nothing. */
  action?(block: B): string | null
  /** Whether it shows something to which whoever can't see is told nothing. */
  blind?(block: B): boolean
}

/** The same block with its rich text sanitised. */
type Clean<B> = (block: B, rich: (html: string) => string) => B

/** A block with rich text (`html`) says how it is sanitised. */
export type BlockModule<B> = Facts<B> & (B extends { html: string } ? { clean: Clean<B> } : { clean?: Clean<B> })

export const id = v.pipe(v.string(), v.regex(/^[a-z0-9]{1,16}$/))
export const line = v.pipe(v.string(), v.maxLength(300))
/** A text of some lines, without marks. */
export const long = v.pipe(v.string(), v.maxLength(2000))
/** At most so many of a thing. */
export const items = <E extends v.ObjectEntries>(entries: E, most: number) =>
  v.pipe(v.array(v.object(entries)), v.maxLength(most))
export const reference = v.pipe(v.number(), v.integer(), v.minValue(1))

/**
 * What any block may say of where and to whom it is shown; not given: everywhere, to everybody. `seenBy`: those whom a segment finds, or
 * everybody else (`are` false).
 */
export const shownTo = {
  on: v.optional(v.picklist(["phone", "desktop"])),
  seenBy: v.optional(v.object({ segment: reference, are: v.boolean() })),
}
export type ShownTo = {
  on?: "phone" | "desktop" | undefined
  seenBy?: SeenBy | undefined
  /** The kept section that it comes from, by its block on a page that is being written out. It is never kept. */
  within?: string
}

/** Where a button leads: out by an outcome, to the form on its own page, to a step, or to what a link names ("course:3", or an address outside). */
export type ButtonTarget =
  | { to: "outcome"; outcome: string }
  | { to: "form" }
  | { to: "step"; step: number }
  | { to: "link"; href: string }
