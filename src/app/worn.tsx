// What learners and affiliates see wears the school's look: its colours, typefaces and corners in place of the studio's.
import type { CSSProperties, ReactNode } from "react"
import type { Look } from "@/core/look/look"
import { isDark } from "@/core/look/look"
import { familyOf, type Pair, pairs, typefacesOf } from "@/core/look/typeface"
import { legalNames } from "@/core/page/legal"
import { narrowed, narrower } from "@/core/page/picture"
import { fontFaces } from "@/core/page/style"
import { shownLegal } from "@/server/page/legal"
import { schoolHead, schoolLogo, schoolLook } from "@/server/school-view"
import { ActForm } from "@/ui/act-form"
import { Link } from "@/ui/link"
import { context } from "./guard"

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

/**
 * A screen of learners or affiliates: the school's sign, the way to one's account and out, what stands there, and the legal pages.
 *
 * @param home where the sign leads; the account is below it
 */
export async function Worn({
  home,
  signedIn,
  leave,
  className = "max-w-3xl",
  main = "",
  children,
}: {
  home: string
  signedIn: boolean
  leave: (state: undefined, form: FormData) => Promise<void>
  /** How wide it is. */
  className?: string
  /** Of what stands there. */
  main?: string
  children: ReactNode
}) {
  const { db } = context()
  const [{ name }, look, logo, legal] = await Promise.all([
    schoolHead(db),
    schoolLook(db),
    schoolLogo(db),
    shownLegal(db),
  ])
  return (
    <div style={styleOf(look)} className="flex min-h-dvh flex-col bg-paper text-lead leading-relaxed text-ink">
      {typefacesOf(look.pair).map((f) => (
        <link key={f} rel="preload" as="font" type="font/woff2" href={`/fonts/${f}-latin.woff2`} crossOrigin="" />
      ))}
      <style>{fontFaces(look)}</style>
      <div className={`mx-auto w-full grow px-5 pb-16 ${className}`}>
        <header className="flex items-center justify-between gap-4 border-b border-line py-3.5 text-body">
          <Link href={home} className="font-display font-bold">
            {logo ? (
              <img
                src={narrowed(logo.url, narrower[0])}
                width={logo.width}
                height={logo.height}
                alt={name}
                className="h-8 w-auto"
              />
            ) : (
              name
            )}
          </Link>
          {signedIn ? (
            <div className="flex gap-4">
              <Link href={`${home}/account`} className="inline-flex min-h-8 items-center text-soft hover:text-ink">
                Account
              </Link>
              <ActForm act={leave}>
                <button type="submit" className="min-h-8 text-soft hover:text-ink">
                  Sign out
                </button>
              </ActForm>
            </div>
          ) : null}
        </header>
        <main className={`pt-6 ${main}`}>{children}</main>
      </div>
      {legal.length ? (
        <footer className={`mx-auto w-full px-5 pb-8 text-note ${className}`}>
          <p className="flex flex-wrap gap-x-4 border-t border-line pt-3">
            {legal.map((kind) => (
              <a key={kind} href={`/${kind}`} className="min-h-6 text-soft underline">
                {legalNames[kind]}
              </a>
            ))}
          </p>
        </footer>
      ) : null}
    </div>
  )
}
