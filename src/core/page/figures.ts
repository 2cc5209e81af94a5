// Numbers of a course that are counted, as pages show them.
import { type Html, html } from "../html"
import { words } from "../words/en"
import { locale } from "../words/locale"

/** Learners so far, who joined in the last 30 days, live lessons, and hours that they take. */
export const figureNames = ["learners", "lately", "lessons", "hours"] as const
export type Figure = (typeof figureNames)[number]
export type CourseFigures = Readonly<Record<Figure, number>>

/** The least that is said of people: fewer says more against than for. */
export const leastPeople = 10

const says: Readonly<Record<Figure, (f: CourseFigures) => number | null>> = {
  learners: (f) => (f.learners < leastPeople ? null : f.learners),
  lately: (f) => (f.lately < leastPeople ? null : f.lately),
  lessons: (f) => f.lessons || null,
  // Said in whole hours, rounded down: more is never promised than there is.
  hours: (f) => Math.floor(f.hours) || null,
}

export function figuresHtml(f: CourseFigures | undefined, show: readonly Figure[]): Html {
  const shown = f
    ? show.flatMap((name) => {
        const n = says[name](f)
        return n === null
          ? []
          : html`<div><dt>${words.page.figures[name](n)}</dt><dd>${n.toLocaleString(locale)}</dd></div>`
      })
    : []
  return shown.length ? html`<dl class="figures">${shown}</dl>` : html``
}
