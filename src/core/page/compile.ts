// A finished page: static HTML, and between it typed slots for what only the moment knows.

import { escapeHtml, type Html, html } from "../html"
import type { AskedField, Field } from "../person/field"
import { askHtml } from "./ask"
import type { ListedCourse } from "./cards"
import type { CourseFigures } from "./figures"
import type { KeptSections } from "./kept"
import type { Picture } from "./picture"
import type { QuoteCard } from "./quotes"
import type { OfferCard } from "./selling"
import type { Part, Piece, Slot } from "./writer"

/** The picture, one pixel large, by which a newcomer shows to be a browser. */
export const seenPath = "seen.gif"

export type CompiledPage = {
  readonly step: number
  readonly path: string
  readonly entry: boolean
  /** Strings are finished HTML. */
  readonly pieces: readonly Piece[]
  /** The one style sheet and the one script inside, as the content security policy must name them. */
  readonly style: string
  readonly script: string
  /** The words a visitor agrees to when they send this page's form. */
  readonly consent: string
  /** Whether what is joined here waits for the press in the mailbox (double opt-in). */
  readonly confirm: boolean
  /** Whether its form is taken from pages of other sites, too. Releases from before had no choice, and aren't. */
  readonly foreign?: boolean
  /** The fields that its form asks for, as they were when it was published. */
  readonly asks?: readonly AskedField[]
  /** Hosts of which something is shown once a visitor asks for it. */
  readonly frames?: readonly string[]
  /** What it says of itself where it is shown among others. Releases from before say nothing. */
  readonly shown?: { readonly about: string; readonly picture: Picture | null }
}

/** Who teaches, as it is written once for the school. `about`: plain text, by lines. */
export type TeacherCard = { readonly name: string; readonly about: string; readonly portrait: Picture | null }

/** What a block needs to be written, on a page or in a lesson. */
export type BlockContext = {
  readonly pictures: ReadonlyMap<number, Picture>
  /** What plays; `at`: the day it was uploaded, YYYY-MM-DD. */
  readonly videos: ReadonlyMap<number, { readonly url: string; readonly type: string; readonly at?: string }>
  /** Number of the release that forms carry; 0 in a preview, whose forms go nowhere. */
  readonly release: number
  /** What offers look like, for a preview; a release asks when it is looked at. */
  readonly offers?: Readonly<Record<number, OfferCard>>
  readonly teachers?: ReadonlyMap<number, TeacherCard>
  /** What learners say of each course, and what is counted of it, for a preview. */
  readonly quotes?: Readonly<Record<number, readonly QuoteCard[]>>
  readonly figures?: Readonly<Record<number, CourseFigures>>
  /** Courses as a catalogue lists them, for a preview. */
  readonly listed?: Readonly<Record<number, ListedCourse>>
  /** The school's fields, where a form can stand. */
  readonly fields?: readonly Field[]
  readonly kept?: KeptSections
  /** Where links lead that name something of the school ("course:3"), steps excepted. */
  readonly addresses?: ReadonlyMap<string, string>
}

/** The HTML with its slots filled; values are escaped here. `within`: the segments in which whoever looks is. */
export function fillPage(
  pieces: CompiledPage["pieces"],
  values: Partial<Record<Slot | `field-${number}`, string>>,
  part: (p: Part) => Html = () => html``,
  within: ReadonlySet<number> = new Set(),
): string {
  return pieces
    .map((p) => {
      if (typeof p === "string") return p
      if ("seenBy" in p)
        return within.has(p.seenBy.segment) === p.seenBy.are ? fillPage(p.pieces, values, part, within) : ""
      if ("part" in p) return part(p as Part).text
      if ("ask" in p) return askHtml(p.ask, values[`field-${p.ask.id}`] ?? "").text
      const value = values[p.slot] ?? ""
      return p.slot === "error" && value
        ? html`<p class="wrong" role="alert" tabindex="-1" autofocus>${value}</p>`.text
        : escapeHtml(value)
    })
    .join("")
}

/** The parts of a page that are made anew for each look. */
export function partsOf({ pieces }: Pick<CompiledPage, "pieces">): Part[] {
  return pieces.flatMap((p) =>
    typeof p === "string" ? [] : "seenBy" in p ? partsOf(p) : "part" in p ? [p as Part] : [],
  )
}

/** The segments that something of a page is for. */
export function segmentsOf({ pieces }: Pick<CompiledPage, "pieces">): number[] {
  const found = pieces.flatMap((p) =>
    typeof p === "object" && "seenBy" in p ? [p.seenBy.segment, ...segmentsOf(p)] : [],
  )
  return [...new Set(found)]
}
