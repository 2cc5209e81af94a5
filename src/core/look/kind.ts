// What there is to know of a look: colours, type, corners, and how it lays out what stands on a page.

import type { PairName } from "./typeface"

export type Colour = `#${string}`

/** The colours of one kind of band. Everything that stands in it meets these and no others. */
export type Band = {
  readonly ground: Colour
  /** What lies on the ground: cards, fields, forms. */
  readonly card: Colour
  readonly ink: Colour
  readonly soft: Colour
  /** Fine lines that only part things. */
  readonly line: Colour
  readonly action: Colour
  readonly onAction: Colour
  /** Links, numbers and small labels. */
  readonly accent: Colour
}

export const bandNames = ["plain", "tinted", "dark"] as const
export type BandName = (typeof bandNames)[number]

/** How the first screen is laid out: words alone, beside a picture or film, over it, beside the form, or centred below it. */
export const firstScreens = ["words", "beside", "behind", "form", "centred"] as const
export type FirstScreen = (typeof firstScreens)[number]

export type LookModule = {
  readonly name: string
  /** What one sees, in a line. */
  readonly says: string
  readonly bands: Readonly<Record<BandName, Band>> & {
    /** The first screen's, where it is none of the others. */
    readonly first?: Band
  }
  readonly pair: PairName
  /** Lengths in CSS: of cards, fields, buttons and pictures. */
  readonly corners: { readonly box: string; readonly field: string; readonly button: string; readonly picture: string }
  /** The largest headline, in CSS, and how it is set. */
  readonly headline: {
    readonly size: string
    readonly leading: number
    readonly tracking: string
    readonly capitals?: true
  }
  readonly first: FirstScreen
  /** Rules that every page has, minified. */
  readonly css: string
  /** Rules for what stands on some pages only, by the kind of block or of first screen. */
  readonly forms?: Readonly<Record<string, string>>
}

/** A band in one line. */
export function band(
  ground: Colour,
  card: Colour,
  ink: Colour,
  soft: Colour,
  line: Colour,
  action: Colour,
  onAction: Colour,
  accent: Colour = action,
): Band {
  return { ground, card, ink, soft, line, action, onAction, accent }
}
