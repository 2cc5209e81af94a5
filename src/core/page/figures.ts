// Numbers of a course that are counted, as pages show them.
import { type Html, html } from "../html"
import { words } from "../words/en"
import { locale } from "../words/locale"

/** Learners so far, how many and who joined in the last 30 days, live lessons, hours that they take, and what learners think of it. */
export const figureNames = ["learners", "lately", "names", "lessons", "hours", "rating"] as const
export type Figure = (typeof figureNames)[number]
export type CourseFigures = Readonly<Record<Exclude<Figure, "rating" | "names">, number>> & {
  /** The first names of who joined lately and lets pages say it, the latest first. */
  readonly names: readonly string[]
  /** On average, from 1 to `most`, of so many people; null: no survey asks. */
  readonly rating: { readonly average: number; readonly most: number; readonly people: number } | null
}

/** The least that is said of people: fewer says more against than for. */
export const leastPeople = 10

type Said = { readonly n: number; readonly is: string }
const w = words.page.figures
const counted = (n: number, is: (n: number) => string): Said | null => (n ? { n, is: is(n) } : null)
const ofPeople = (n: number, is: (n: number) => string) => counted(n < leastPeople ? 0 : n, is)

/** The least and the most first names that are said. */
const namesFrom = 3
export const namesTo = 5

/** A first name as a page may say it: its first word, of letters alone, so that nobody writes anything else there; or null. */
export function firstNameShown(name: string): string | null {
  const first = name.trim().split(/\s+/)[0] ?? ""
  return /^\p{L}[\p{L}\p{M}'’-]{1,19}$/u.test(first) ? first : null
}

/** Numbers are rounded down: more is never promised than there is. */
const says: Readonly<Record<Exclude<Figure, "names">, (f: CourseFigures) => Said | null>> = {
  learners: (f) => ofPeople(f.learners, w.learners),
  lately: (f) => ofPeople(f.lately, w.lately),
  lessons: (f) => counted(f.lessons, w.lessons),
  hours: (f) => counted(Math.floor(f.hours), w.hours),
  rating: ({ rating: r }) =>
    r && ofPeople(r.people, () => "") ? { n: Math.floor(r.average * 10) / 10, is: w.rating(r.most, r.people) } : null,
}

export function figuresHtml(f: CourseFigures | undefined, show: readonly Figure[]): Html {
  if (!f) return html``
  const shown = show.flatMap((name) => (name === "names" ? [] : (says[name](f) ?? [])))
  const names = show.includes("names") && f.names.length >= namesFrom ? f.names.slice(0, namesTo) : []
  return html`${shown.length > 0 && html`<dl class="figures">${shown.map(({ n, is }) => html`<div><dt>${is}</dt><dd>${n.toLocaleString(locale)}</dd></div>`)}</dl>`}${names.length > 0 && html`<p class="joined" dir="auto">${w.names(names)}</p>`}`
}
