// How well text stands out from its ground: the contrast ratio of WCAG 2.2 (relative luminance of sRGB colours).
import { type Look, looks } from "../look"

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

/** The least contrast that any text of a page in this look has: on the ground, on raised parts, on its buttons. */
export function leastContrast(look: Look): number {
  const l = looks[look]
  return Math.min(
    ...[l.ink, l.soft, l.action].flatMap((text) => [contrast(text, l.ground), contrast(text, l.raised)]),
    contrast(l.onAction, l.action),
  )
}
