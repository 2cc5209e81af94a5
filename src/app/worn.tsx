// What learners and affiliates see wears the school's look: its colours, typefaces and corners in place of the studio's.
import type { CSSProperties, ReactNode } from "react"
import type { Look } from "@/core/look/look"
import { isDark } from "@/core/look/look"
import { familyOf, type Pair, pairs, typefacesOf } from "@/core/look/typeface"
import type { Picture } from "@/core/page/picture"
import { fontFaces } from "@/core/page/style"

/** The names by which screens know colours, in the look's own. What says that all is well, or not, stays as the studio has it. */
function styleOf(look: Look): CSSProperties {
  const { plain, tinted } = look.bands
  const pair: Pair = pairs[look.pair]
  const tokens = {
    paper: plain.ground,
    card: plain.card,
    shallow: tinted.ground,
    ink: plain.ink,
    soft: plain.soft,
    line: plain.line,
    slate: plain.action,
    "on-slate": plain.onAction,
  }
  const box = look.corners.field
  return {
    ...Object.fromEntries(
      Object.entries(tokens).flatMap(([name, value]) => [
        [`--${name}`, value],
        [`--color-${name}`, value],
      ]),
    ),
    "--font-sans": familyOf(pair.text),
    "--font-display": familyOf(pair.display),
    "--radius-md": box,
    "--radius-lg": look.corners.box,
    fontFamily: familyOf(pair.text),
    colorScheme: isDark(look) ? "dark" : "light",
  } as CSSProperties
}

export function Worn({ look, children }: { look: Look; children: ReactNode }) {
  return (
    <div style={styleOf(look)} className="min-h-dvh bg-paper text-lead leading-relaxed text-ink">
      {typefacesOf(look.pair).map((f) => (
        <link key={f} rel="preload" as="font" type="font/woff2" href={`/fonts/${f}-latin.woff2`} crossOrigin="" />
      ))}
      <style>{fontFaces(look)}</style>
      {children}
    </div>
  )
}

/** The school's logo, or its name. */
export function SchoolName({ name, logo }: { name: string; logo: Picture | null }): ReactNode {
  return logo ? <img src={logo.url} width={logo.width} height={logo.height} alt={name} className="h-8 w-auto" /> : name
}
