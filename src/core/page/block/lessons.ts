import * as v from "valibot"
import type { CourseCard } from "../../course/card"
import { type Html, html } from "../../html"
import { refTo } from "../../reference"
import { type BlockModule, id, reference } from "./kind"

const schema = v.object({ id, kind: v.literal("lessons"), course: v.nullable(reference) })

const lessonsCss =
  ".lessons{list-style:none;padding:0;max-width:none!important;counter-reset:l}.lessons li{counter-increment:l;display:grid;grid-template-columns:2.4rem minmax(0,1fr) auto;gap:0 .5rem;align-items:baseline;padding:.7rem 0;border-bottom:1px solid var(--l);margin:0;break-inside:avoid}.lessons li::before{content:counter(l);font-weight:700;color:var(--e)}.lessons .m{color:var(--s);white-space:nowrap}@media(min-width:56rem){main.wide .lessons{columns:2;column-gap:3.5rem}}"

/** The live lessons of a course, with their lengths. */
export const lessons: BlockModule<v.InferOutput<typeof schema>> = {
  name: "lesson list",
  schema,
  fresh: (id) => ({ id, kind: "lessons", course: null }),
  html(out, b, { courses, mark }) {
    const course = courses.find((c) => c.id === b.course)
    out.text(html`<ol${mark} class="lessons">${course ? rows(course) : ""}</ol>`)
  },
  css: [lessonsCss],
  refs: (b) => refTo("course", b.course, "lists its lessons"),
  gap: (b) => (b.course === null ? "its lesson list is of no course" : null),
  line: () => "What's inside",
}

function rows(course: CourseCard): Html[] {
  return course.lessons
    .filter((l) => l.state === "live")
    .map((l) => {
      const minutes = l.minutes ? html`<span class="m">${l.minutes} min</span>` : ""
      return html`<li><span dir="auto">${l.title}</span>${minutes}</li>`
    })
}
