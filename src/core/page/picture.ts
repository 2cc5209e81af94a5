// How a picture stands in HTML: in the widths it is drawn in, its place kept before it is there, cut around what matters in it.
import { type Html, html } from "../html"
import type { Colour } from "../look/kind"

export type Picture = {
  /** Where it lies, as `/media/<name>.webp`. */
  readonly url: string
  /** Pixels. */
  readonly width: number
  readonly height: number
  /** The darkest and the lightest of its pixels; not known: anything can be among them. */
  readonly tones?: readonly [Colour, Colour]
  /** What matters in it, in hundredths of its width and of its height from its left and its top; not given: its middle. */
  readonly focus?: readonly [number, number]
}

/** The narrower widths that a picture is drawn in, pixels; beside them it is kept at most `widest` wide. */
export const narrower = [480, 960, 1600] as const
export const widest = 2400

/** How wide a picture is shown, as `sizes` says it (HTML, 4.8.4.2.1). */
const shownAs = {
  full: "100vw",
  text: "(min-width:44rem) 40rem,100vw",
  half: "(min-width:56rem) 38rem,100vw",
  third: "(min-width:56rem) 24rem,(min-width:36rem) 50vw,100vw",
  portrait: "18rem",
  small: "5rem",
} as const

export type ShownAs = keyof typeof shownAs

/** The same picture in a width of `narrower`. */
export const narrowed = (url: string, width: number) => url.replace(/\.webp$/, `-${width}.webp`)

/** Every width that a picture is there in, for `srcset`; empty where it is narrow itself. */
export function widthsOf({ url, width }: Pick<Picture, "url" | "width">): string {
  const under = narrower.filter((w) => w < width * 0.8)
  return under.length && url.endsWith(".webp")
    ? [...under.map((w) => `${narrowed(url, w)} ${w}w`), `${url} ${width}w`].join(",")
    : ""
}

/** The same as JPEG, at most 1,120 pixels wide, for what knows nothing else: e-mails, and previews of links. */
export function jpegOf(p: Pick<Picture, "url" | "width" | "height">): Pick<Picture, "url" | "width" | "height"> {
  const width = Math.min(1120, p.width)
  return { url: p.url.replace(/\.webp$/, ".webp.jpg"), width, height: Math.round((p.height * width) / p.width) }
}

/** The sign of a school for the tab of a browser: square, 96 pixels. */
export const iconOf = (url: string) => url.replace(/\.webp$/, "-icon.png")

/** A logo for e-mails: what is clear in it stays so, and mail programs show it. */
export const mailLogoOf = (url: string) => url.replace(/\.webp$/, "-logo.png")

/** The classes by which a picture is cut around what matters in it, in fifths; none for its middle. */
export function focusClass({ focus }: Pick<Picture, "focus">): string {
  if (!focus) return ""
  const fifth = (at: number) => Math.min(4, Math.floor(at / 20))
  return (["x", "y"] as const)
    .map((axis, i) => ({ axis, at: fifth(focus[i]!) }))
    .filter(({ at }) => at !== 2)
    .map(({ axis, at }) => `f${axis}${at}`)
    .join(" ")
}

/** What those classes mean. */
export const focusCss = [
  "img{object-position:var(--fx,50%) var(--fy,50%)}",
  ...["x", "y"].flatMap((axis) => [0, 1, 3, 4].map((at) => `.f${axis}${at}{--f${axis}:${at * 25}%}`)),
].join("")

/**
 * A picture as an element.
 *
 * @param first it stands in the first screen: fetched at once and before others; elsewhere when it is scrolled to
 * @param mark attributes of the editor's, in front
 */
export function pictureTag(
  p: Picture,
  {
    alt = "",
    as,
    first = false,
    mark = html``,
    also = "",
  }: { alt?: string; as: ShownAs; first?: boolean; mark?: Html | ""; also?: string },
): Html {
  const classes = [also, focusClass(p)].filter(Boolean).join(" ")
  const widths = as === "small" ? "" : widthsOf(p)
  return html`<img${mark}${classes && html` class="${classes}"`} src="${as === "small" && p.width > narrower[0] ? narrowed(p.url, narrower[0]) : p.url}"${widths && html` srcset="${widths}" sizes="${shownAs[as]}"`} width="${p.width}" height="${p.height}" alt="${alt}"${first ? html` fetchpriority="high"` : html` loading="lazy"`}>`
}
