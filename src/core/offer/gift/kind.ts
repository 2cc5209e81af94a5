// What there is to know of a kind of thing that an offer gives.
import type * as v from "valibot"
import type { Finding, FoundAt } from "../../finding"
import type { Ref } from "../../reference"

/** A gift as it is kept: what it points at, or its own words. */
export type KeptGift = {
  readonly course: number | null
  readonly media: number | null
  /** An offer within a bundle. */
  readonly part: number | null
  readonly words: string
}

/** The same with what it points at as it is now. */
export type FoundGift = KeptGift & {
  /** What that is called; empty where it points at nothing. */
  readonly title: string
  readonly state: "draft" | "live"
  /** How many lessons of the course are live. */
  readonly lessons: number
}

/** What somebody may open by a gift. */
export type GiftOpens = { readonly course: number } | { readonly media: number }

export type GiftModule<G extends object, I extends object> = {
  /** Behind the name of what is given. */
  readonly label: string
  /** What it is chosen from, and what that is called in the list to choose from. */
  readonly chosen?: {
    readonly from: "courses" | "files" | "offers"
    readonly group: string
    of(thing: { readonly id: number; readonly title: string; readonly live: boolean }): G
  }
  /** It is written in words, into a field of this name. */
  readonly written?: { readonly field: string; of(words: string): G }
  /** What buyers are told that they get; not given: its title. */
  shown?(gift: G): string
  /** What is to be known of one, behind its label. */
  note?(gift: G): string
  /** As it is typed. */
  readonly input: v.GenericSchema<unknown, I>
  keep(typed: I): Partial<KeptGift>
  read(found: FoundGift): G
  typed(gift: G): I
  /** The same for the same thing, by whichever offer it comes. */
  key(gift: G): string
  /** What it opens; null: nothing that is opened. */
  opens(gift: G): GiftOpens | null
  /** The offer that it stands for, whose own gifts it gives. */
  readonly within?: (gift: G) => number
  /** It is sent, and owned by having been bought. */
  readonly byPost?: true
  refs(typed: I): Ref[]
  /** What is wrong with it where it is sold. */
  check?(gift: G, step: FoundAt): Finding[]
}
