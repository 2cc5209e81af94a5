// What there is to know of a kind of step: what it is called, what somebody can do there, what is set at it, what it shows
// at first, and what can be wrong with it.
import * as v from "valibot"
import type { CourseCard } from "../../course/card"
import type { Finding } from "../../finding"
import type { Offer } from "../../offer/offer"
import type { BlockKind } from "../../page/block/list"
import type { Page } from "../../page/document"
import type { Ref } from "../../reference"
import type { Webinar } from "../../webinar/webinar"
import type { Funnel, Step } from "../draft"
import type { PreflightContext } from "../finding"
import type { Outcome, StepKind } from "./list"

/** What is set at a step of a webinar. */
export const webinarSettings = v.object({
  webinar: v.optional(v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1))), null),
})

export type WebinarNamed = Pick<Webinar, "title" | "promise" | "host" | "minutes" | "prepare" | "replayDays">

export type OutcomeFacts = {
  /** What somebody did, after "whoever". */
  readonly verb: string
  /** What those who did are called, after a share. */
  readonly done: string
  /** Whether it leads on. Whoever went out by one that doesn't is no longer there: it only sets things off. */
  readonly leads: boolean
  /** Whether somebody who looks at the page it leads to has gone that way; by the others a form is sent. */
  readonly byLooking?: true
}

/** What a step sells, on which terms, and how those go on who can't have it. */
export type Sold = {
  readonly offer: number | null
  /** Null: the offer's first. */
  readonly terms: number | null
  /** It takes the place of what was bought, instead of being added to it. */
  readonly replaces: boolean
  /** How the way goes on where it can't be offered: they have it, it is sold out, or it is over. */
  readonly skipAs: "accepted" | "declined"
}

export type RecipeCourse = CourseCard & {
  readonly pictureId: number | null
  /** Who teaches it, of those the school has written; null: nobody is known. */
  readonly teacherId: number | null
  /** The opening words of each lesson, plain text, by lesson id. */
  readonly openings: ReadonlyMap<number, string>
}

export type OfferNamed = Pick<Offer, "id" | "publicName" | "promise" | "pictureId" | "refundDays" | "terms">

/** What a first page is written about. */
export type FirstPageAbout = {
  readonly course: RecipeCourse | null
  readonly offer: OfferNamed | null
  readonly webinar?: WebinarNamed
  /** For whoever has just declined something. */
  readonly second: boolean
}

export type StepCheck = {
  readonly step: Step
  readonly funnel: Funnel
  readonly context: PreflightContext
  /** The facts of every kind of step. */
  readonly kinds: Readonly<Record<StepKind, StepModule<Outcome, object>>>
}

export type StepModule<O extends string, S extends object> = {
  readonly label: string
  /** What it is called where whoever comes there has just turned another one down. */
  readonly afterNo?: string
  readonly outcomes: Readonly<Record<O, OutcomeFacts>>
  /** Whether people come here from outside. */
  readonly entry: boolean
  readonly hasPage: boolean
  /** Blocks that stand on its pages and not on all. */
  readonly blocks?: readonly BlockKind[]
  /** What is set at it; an empty object gives what a new one has. */
  readonly settings: v.GenericSchema<unknown, S>
  firstPage?(about: FirstPageAbout): Page
  refs(settings: S): Ref[]
  /** What is wrong with one, beyond what can be wrong with any. */
  check?(at: StepCheck): Finding[]
  /** How it can be put into a funnel that is there; not given: it comes only with a new funnel. */
  readonly insert?: {
    /** Whether it wants an offer chosen. */
    readonly offer: boolean
    /** Whether it makes sense only after somebody has bought. */
    readonly afterSale: boolean
    nameOf(about: FirstPageAbout): string
  }
  /** What most often follows it. */
  readonly followedBy?: StepKind
  /** What is sold at it: first in a story, or as something more after that. */
  readonly sells?: {
    readonly as: "first" | "more"
    readonly took: Outcome
    /** The outcome of whoever turned it down and is still there. */
    readonly turned: Outcome | null
    of(settings: S): Sold
    with(settings: S, sold: Sold): S
  }
  /** The course that opens here; null: none is chosen. */
  readonly opens?: (settings: S) => number | null
  /** The webinar it is about; null: none is chosen. */
  readonly webinar?: (settings: S) => number | null
  /** The offer whose programme for affiliates somebody joins here; null: none is chosen. */
  readonly recruits?: (settings: S) => number | null
  /** Where it stands, where that is neither a page of a funnel nor the learning area. */
  readonly stands?: string
  /** A seat at it is taken here. */
  readonly takesSeat?: true
  /** It is played again here. */
  readonly replays?: true
  /** Whoever has a seat at it waits for it here, and is led into its room by a link to this page. */
  readonly awaits?: true
  /** Something is given here for an address alone. */
  readonly free?: true
  /** It waits for a press in the mailbox. */
  readonly waitsForMailbox?: true
  /** Buyers are told here that it worked, and let in. */
  readonly welcomes?: true
  /** Mail has to come for anything to work here; what fails without, in words. */
  readonly needsMail?: string
  /** How gladly somebody without access is sent here, the higher the sooner; not given: never. */
  readonly gate?: number
}
