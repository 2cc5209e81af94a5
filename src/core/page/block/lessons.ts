import * as v from "valibot"
import type { CourseCard } from "../../course/card"
import { type Html, html } from "../../html"
import { refTo } from "../../reference"
import { words } from "../../words/en"
import { type BlockModule, id, reference } from "./kind"

const schema = v.object({ id, kind: v.literal("lessons"), course: v.nullable(reference) })

const lessonsCss =
  ".lessons{list-style:none;padding:0;max-width:none!important;margin-block:0 1rem}.lessons li{display:grid;grid-template-columns:2.4rem minmax(0,1fr) auto;gap:0 .5rem;align-items:baseline;padding:.7rem 0;border-bottom:1px solid var(--l);margin:0;break-inside:avoid}.lessons li::before{content:attr(value);font-weight:700;color:var(--e)}.lessons .m{color:var(--s);white-space:nowrap}.lessons small{white-space:nowrap;color:var(--s)}.inside .title{margin-block:1.75rem .4rem}.inside>details{margin-block:.5rem 1rem}.inside>details>summary{cursor:pointer;font-weight:600;padding:.6rem 0}@media(min-width:56rem){main.wide .lessons{columns:2;column-gap:3.5rem}}"

/** Rows beyond these go on behind a disclosure. */
const mostRows = 14

/** The live lessons of a course, with their lengths, by its modules; free ones are links. */
export const lessons: BlockModule<v.InferOutput<typeof schema>> = {
  name: "curriculum",
  schema,
  fresh: (id) => ({ id, kind: "lessons", course: null }),
  html(out, b, { courses, mark, editing }) {
    const course = courses.find((c) => c.id === b.course)
    const live = course?.lessons.filter((l) => l.state === "live").map((l, i) => ({ ...l, n: i + 1 })) ?? []
    if (!course || !live.length) {
      if (editing) out.text(html`<p${mark} class="small">The live lessons of a course come here.</p>`)
      return
    }
    const [first, rest] = live.length > mostRows ? [live.slice(0, mostRows - 2), live.slice(mostRows - 2)] : [live, []]
    const more = rest.length
      ? html`<details><summary>${words.page.moreLessons(rest.length, hoursOf(rest))}</summary>${groups(rest, course)}</details>`
      : ""
    out.text(html`<div${mark} class="inside">${groups(first, course)}${more}</div>`)
  },
  mail(b, { courses, mark, editing }) {
    const course = courses.find((c) => c.id === b.course)
    const live = course?.lessons.filter((l) => l.state === "live") ?? []
    if (!live.length) return editing ? html`<p${mark}>The live lessons of a course come here.</p>` : html``
    const rest = live.slice(mostRows)
    return html`<div${mark}><ol>${live.slice(0, mostRows).map((l) => html`<li dir="auto">${l.title}${l.minutes ? html` <span class="note">${l.minutes} min</span>` : ""}</li>`)}</ol>${rest.length ? html`<p class="note">${words.page.moreLessons(rest.length, hoursOf(rest.map((l) => ({ ...l, n: 0 }))))}</p>` : ""}</div>`
  },
  css: [lessonsCss],
  refs: (b) => refTo("course", b.course, "lists its lessons"),
  gap: (b) => (b.course === null ? "its lesson list is of no course" : null),
  data(b, { courses, school }) {
    const course = courses.find((c) => c.id === b.course && c.state === "live")
    return course?.promise
      ? {
          "@type": "Course",
          name: course.title,
          description: course.promise,
          provider: { "@type": "Organization", name: school },
        }
      : null
  },
  line: () => "What's inside",
}

type Row = CourseCard["lessons"][number] & { readonly n: number }

/** How long lessons take together, in words; empty where nobody said. */
function hoursOf(rows: readonly Row[]): string {
  const minutes = rows.reduce((sum, l) => sum + l.minutes, 0)
  if (!minutes) return ""
  return minutes < 90 ? `${minutes} min` : `${Math.floor(minutes / 60)} h${minutes % 60 ? ` ${minutes % 60} min` : ""}`
}

function groups(rows: readonly Row[], course: CourseCard): Html[] {
  // Modules that hold one lesson each, one a month for instance, say nothing beside the lessons.
  const each = new Set(course.lessons.map((l) => l.module)).size >= course.lessons.length
  const modules = each ? [""] : [...new Set(rows.map((l) => l.module))]
  return modules.map((module) => {
    const within = each ? rows : rows.filter((l) => l.module === module)
    const title = module && html`<p class="title" dir="auto">${module}</p>`
    return html`${title}<ol class="lessons">${within.map((l) => {
      const name = l.free
        ? html`<a href="/learn/${course.slug}/${l.id}" dir="auto">${l.title}</a> <small>${words.page.freeLesson}</small>`
        : html`<span dir="auto">${l.title}</span>`
      const minutes = l.minutes ? html`<span class="m">${l.minutes} min</span>` : ""
      return html`<li value="${l.n}"><span>${name}</span>${minutes}</li>`
    })}</ol>`
  })
}
