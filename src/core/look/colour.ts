// Colours by computation: contrast, and the nearest colour that can be read, in OKLCH.
import { clampChroma, converter, formatHex } from "culori"
import type { Colour } from "./kind"

/** Relative luminance of "#rrggbb", 0 to 1. WCAG 2.2, "relative luminance". */
export function luminance(colour: string): number {
  const [r, g, b] = [1, 3, 5].map((i) => {
    const c = Number.parseInt(colour.slice(i, i + 2), 16) / 255
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4
  }) as [number, number, number]
  return 0.2126 * r + 0.7152 * g + 0.0722 * b
}

/** Contrast ratio of two colours, 1 to 21, in whichever order. WCAG 2.2, "contrast ratio". */
export function contrast(a: string, b: string): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number]
  return (light + 0.05) / (dark + 0.05)
}

const toOklch = converter("oklch")

/** Lightness 0 to 1, chroma from 0 on (sRGB ends at about 0.32), hue in degrees; 0 where a grey has none. */
export type Oklch = { readonly l: number; readonly c: number; readonly h: number }

/** Throws RangeError for what isn't "#rrggbb". */
export function oklchOf(colour: string): Oklch {
  if (!/^#[0-9a-f]{6}$/i.test(colour)) throw new RangeError(`${colour} is no colour`)
  const { l, c, h } = toOklch(colour)!
  return { l, c, h: h ?? 0 }
}

/** The colour with this lightness, chroma and hue; with less chroma where sRGB has none so strong. */
export function hexOf({ l, c, h }: Oklch): Colour {
  const within = Math.min(1, Math.max(0, l))
  return formatHex(clampChroma({ mode: "oklch", l: within, c, h }, "oklch")).toUpperCase() as Colour
}

const passes = (colour: string, grounds: readonly string[], ratio: number) =>
  grounds.every((g) => contrast(colour, g) >= ratio)

/**
 * The nearest colour, by the distance in OKLab, of the same hue that has the contrast with every ground; the colour itself where it has it.
 * Null where there is none: black and white fail, too.
 */
export function mend(colour: Colour, grounds: readonly string[], ratio: number): Colour | null {
  if (passes(colour, grounds, ratio)) return colour
  const from = oklchOf(colour)
  let best: { colour: Colour; far: number } | null = null
  // For each chroma down to grey, the nearest lightness above and below that passes.
  for (let step = 0; step <= 20; step++) {
    const c = from.c * (1 - step / 20)
    for (const end of [0, 1]) {
      if (!passes(hexOf({ l: end, c: 0, h: from.h }), grounds, ratio)) continue
      let [bad, good] = [from.l, end]
      for (let i = 0; i < 12; i++) {
        const middle = (bad + good) / 2
        if (passes(hexOf({ l: middle, c, h: from.h }), grounds, ratio)) good = middle
        else bad = middle
      }
      const found = hexOf({ l: good, c, h: from.h })
      if (!passes(found, grounds, ratio)) continue
      const to = oklchOf(found)
      const far = Math.hypot(to.l - from.l, to.c - from.c)
      if (!best || far < best.far) best = { colour: found, far }
    }
  }
  return best?.colour ?? null
}

/** The colour, lighter or darker by so much of OKLCH's lightness. */
export function shifted(colour: Colour, by: number): Colour {
  const from = oklchOf(colour)
  return hexOf({ ...from, l: from.l + by })
}

/** What is written on this colour: nearly black or white, whichever can be read; black where neither can (it can wherever white can't). */
export function onColour(ground: Colour): Colour {
  const readable = (["#1A1410", "#FFFFFF"] as const).filter((c) => contrast(c, ground) >= 4.5)
  return readable.toSorted((a, b) => contrast(b, ground) - contrast(a, ground))[0] ?? "#000000"
}

/**
 * How much of a scrim, 0 to 1, must lie over a picture so that text on it has the contrast, whatever of the picture is below it. `from` is
 * the darkest and the lightest that the picture has, as colours.
 */
export function scrim(text: Colour, over: Colour, from: readonly Colour[], ratio = 4.5): number {
  const channels = (colour: string) => [1, 3, 5].map((i) => Number.parseInt(colour.slice(i, i + 2), 16))
  const mixed = (pixel: string, alpha: number) =>
    `#${channels(over)
      .map((o, i) => Math.round(o * alpha + channels(pixel)[i]! * (1 - alpha)))
      .map((n) => n.toString(16).padStart(2, "0"))
      .join("")}`
  for (let alpha = 0; alpha < 100; alpha++)
    if (from.every((pixel) => contrast(text, mixed(pixel, alpha / 100)) >= ratio)) return alpha / 100
  return 1
}
