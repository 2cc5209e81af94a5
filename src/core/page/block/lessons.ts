import * as v from "valibot"
import type { CourseCard } from "../../course/card"
import { type Html, html } from "../../html"
import { refTo } from "../../reference"
import { type BlockModule, id, reference } from "./kind"

const schema = v.object({ id, kind: v.literal("lessons"), course: v.nullable(reference) })

/** The live lessons of a course, with their lengths. */
export const lessons: BlockModule<v.InferOutput<typeof schema>> = {
  name: "lesson list",
  schema,
  fresh: (id) => ({ id, kind: "lessons", course: null }),
  html(out, b, { courses, mark }) {
    const course = courses.find((c) => c.id === b.course)
    out.text(html`<ol${mark} class="lessons">${course ? rows(course) : ""}</ol>`)
  },
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
