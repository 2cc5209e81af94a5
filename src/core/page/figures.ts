// Numbers of a course that are counted, as pages show them.
import { type Html, html } from "../html"
import { words } from "../words/en"
import { locale } from "../words/locale"

/** Learners so far, who joined in the last 30 days, live lessons, hours that they take, and what learners think of it. */
export const figureNames = ["learners", "lately", "lessons", "hours", "rating"] as const
export type Figure = (typeof figureNames)[number]
export type CourseFigures = Readonly<Record<Exclude<Figure, "rating">, number>> & {
  /** On average, from 1 to `most`, of so many people; null: no survey asks. */
  readonly rating: { readonly average: number; readonly most: number; readonly people: number } | null
}

/** The least that is said of people: fewer says more against than for. */
export const leastPeople = 10

type Said = { readonly n: number; readonly is: string }
const w = words.page.figures
const counted = (n: number, is: (n: number) => string): Said | null => (n ? { n, is: is(n) } : null)
const ofPeople = (n: number, is: (n: number) => string) => counted(n < leastPeople ? 0 : n, is)

/** Numbers are rounded down: more is never promised than there is. */
const says: Readonly<Record<Figure, (f: CourseFigures) => Said | null>> = {
  learners: (f) => ofPeople(f.learners, w.learners),
  lately: (f) => ofPeople(f.lately, w.lately),
  lessons: (f) => counted(f.lessons, w.lessons),
  hours: (f) => counted(Math.floor(f.hours), w.hours),
  rating: ({ rating: r }) =>
    r && ofPeople(r.people, () => "") ? { n: Math.floor(r.average * 10) / 10, is: w.rating(r.most, r.people) } : null,
}

export function figuresHtml(f: CourseFigures | undefined, show: readonly Figure[]): Html {
  const shown = f ? show.flatMap((name) => says[name](f) ?? []) : []
  if (!shown.length) return html``
  return html`<dl class="figures">${shown.map(({ n, is }) => html`<div><dt>${is}</dt><dd>${n.toLocaleString(locale)}</dd></div>`)}</dl>`
}
