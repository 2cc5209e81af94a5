// What a school wears: one of the looks, with what it has of its own.
import * as v from "valibot"
import { contrast, mend, oklchOf, onColour, shifted } from "./colour"
import type { Band, BandName, Colour, LookModule } from "./kind"
import { isLookKind, type LookKind, lookKinds, lookNames } from "./list"
import { type PairName, pairs } from "./typeface"

const colour = v.optional(
  v.nullable(
    v.pipe(v.custom<Colour>((c) => typeof c === "string" && /^#[0-9a-fA-F]{6}$/.test(c), "a colour is six digits")),
  ),
  null,
)

/** What is chosen. Null: as the look has it. */
export const wornSchema = v.object({
  kind: v.picklist(lookNames),
  ground: colour,
  action: colour,
  /** The ground of dark bands. */
  third: colour,
  pair: v.optional(v.nullable(v.picklist(Object.keys(pairs) as [PairName, ...PairName[]])), null),
  corners: v.optional(v.nullable(v.picklist(["none", "small", "round"])), null),
  /** A picture of the school's own. */
  logo: v.optional(v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1))), null),
})

export type Worn = v.InferOutput<typeof wornSchema>

/** A look with nothing of one's own. */
export const plainly = (kind: LookKind): Worn => v.parse(wornSchema, { kind })

/** What the names from before are now. */
const before: Readonly<Record<string, LookKind>> = {
  harvest: "kitchen-table",
  shore: "conservatory",
  lamplight: "nightfall",
}

/** What is kept of it, as JSON or as the name alone; what can't be read is the first look. */
export function readWorn(kept: string): Worn {
  if (isLookKind(kept)) return plainly(kept)
  if (Object.hasOwn(before, kept)) return plainly(before[kept]!)
  try {
    const read = v.safeParse(wornSchema, JSON.parse(kept))
    return read.success ? read.output : plainly("kitchen-table")
  } catch {
    return plainly("kitchen-table")
  }
}

/** A look as pages are made in it: nothing left to choose, every pair that meets can be read. */
export type Look = Omit<LookModule, "name" | "says"> & { readonly kind: LookKind; readonly mended: readonly Mended[] }

/** A colour that couldn't be read where it stands, and what it became. `now` null: there is none that can. */
export type Mended = {
  readonly what: "ground" | "action" | "third"
  readonly where: BandName | "first"
  readonly was: Colour
  readonly now: Colour | null
}

const corners = {
  none: { box: "0", field: "0", button: "0", picture: "0" },
  small: { box: "8px", field: "6px", button: "6px", picture: "8px" },
  round: { box: "24px", field: "14px", button: "999px", picture: "28px" },
}

/** What the school's own choice makes of a look. */
export function wear(w: Worn): Look {
  const look: LookModule = lookKinds[w.kind]
  const mended: Mended[] = []
  const bands = Object.fromEntries(
    Object.entries(look.bands).map(([where, band]) => [where, ownBand(band, where as Mended["where"], w, mended)]),
  ) as Look["bands"]
  return {
    kind: w.kind,
    bands,
    pair: w.pair ?? look.pair,
    corners: w.corners ? corners[w.corners] : look.corners,
    headline: look.headline,
    first: look.first,
    css: look.css,
    ...(look.forms ? { forms: look.forms } : {}),
    mended,
  }
}

/** Text, and what is as large as a button (WCAG 2.2, 1.4.3 and 1.4.11). */
const [text, large] = [4.5, 3]

function ownBand(band: Band, where: Mended["where"], w: Worn, mended: Mended[]): Band {
  const own = where === "dark" ? w.third : w.ground
  if (!own && !w.action) return band
  const grounded = own
    ? onGround(band, where === "tinted" ? shifted(own, light(own) ? -0.045 : 0.045) : own, where, mended)
    : band
  if (!w.action) return acting(grounded, band.action, where, mended, false)
  return acting(grounded, w.action, where, mended, true)
}

const light = (c: Colour) => oklchOf(c).l > 0.6

/** A band on another ground: what lies and stands on it follows. */
function onGround(band: Band, ground: Colour, where: Mended["where"], mended: Mended[]): Band {
  const bright = light(ground)
  const card = shifted(ground, bright ? (oklchOf(ground).l > 0.96 ? -0.025 : 0.03) : 0.06)
  const meets = [ground, card]
  const wanted = bright === light(band.ground) ? band.ink : onColour(ground)
  const ink = mend(wanted, meets, 7) ?? mend(wanted, meets, text)
  if (!ink) mended.push({ what: where === "dark" ? "third" : "ground", where, was: ground, now: null })
  return {
    ground,
    card,
    ink: ink ?? wanted,
    soft:
      mend(bright === light(band.ground) ? band.soft : shifted(ink ?? wanted, bright ? 0.25 : -0.2), meets, text) ??
      ink ??
      wanted,
    line: shifted(ground, bright ? -0.1 : 0.14),
    action: band.action,
    onAction: band.onAction,
    accent: band.accent,
  }
}

/** A band with this action; what can't be read is mended, and said where it is the school's own. */
function acting(band: Band, action: Colour, where: Mended["where"], mended: Mended[], own: boolean): Band {
  const meets = [band.ground, band.card]
  const mendedAction = mend(action, meets, large)
  if (own && mendedAction !== action) mended.push({ what: "action", where, was: action, now: mendedAction })
  const button = mendedAction ?? band.ink
  const on = contrast(band.onAction, button) >= text ? band.onAction : onColour(button)
  return { ...band, action: button, onAction: on, accent: mend(action, meets, text) ?? band.ink }
}

/** The least contrast that any text has in this look: on the ground and on what lies on it, and on buttons. */
export function leastContrast(look: Look): number {
  return Math.min(
    ...Object.values(look.bands).flatMap((b) => [
      ...[b.ink, b.soft, b.accent].flatMap((c) => [contrast(c, b.ground), contrast(c, b.card)]),
      contrast(b.onAction, b.action),
    ]),
  )
}

/** Whether its pages are light on dark. */
export const isDark = (look: Look): boolean => !light(look.bands.plain.ground)
