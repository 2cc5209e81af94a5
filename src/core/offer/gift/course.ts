import * as v from "valibot"
import { found } from "../../funnel/finding"
import { refTo } from "../../reference"
import type { GiftModule } from "./kind"

const input = v.object({ kind: v.literal("course"), course: v.pipe(v.number(), v.integer(), v.minValue(1)) })

export type CourseGift = {
  readonly kind: "course"
  readonly course: number
  readonly title: string
  readonly state: "draft" | "live"
  /** How many of its lessons are live. */
  readonly lessons: number
}

export const course: GiftModule<CourseGift, v.InferOutput<typeof input>> = {
  label: "course",
  chosen: {
    from: "courses",
    group: "Courses",
    of: (c) => ({ kind: "course", course: c.id, title: c.title, state: c.live ? "live" : "draft", lessons: 1 }),
  },
  note: (g) => (g.state === "draft" ? ", a draft" : ""),
  input,
  keep: (g) => ({ course: g.course }),
  read: (r) => ({ kind: "course", course: r.course!, title: r.title, state: r.state, lessons: r.lessons }),
  typed: (g) => ({ kind: "course", course: g.course }),
  key: (g) => `course:${g.course}`,
  opens: (g) => ({ course: g.course }),
  refs: (g) => refTo("course", g.course, "gives it"),
  check(g, step) {
    const empty = g.lessons === 0
    if (g.state === "live" && !empty) return []
    const ready = g.state === "draft" && !empty
    return [
      {
        ...found(
          "course-not-ready",
          step,
          g.state === "draft"
            ? `“${g.title}” is sold and is still a draft: people pay and stand before a closed door.`
            : `“${g.title}” is sold, and there is nothing in it: no lesson is live.`,
          ready ? { act: "course-live", course: g.course } : { go: "course", course: g.course },
          ready ? "Put the course live" : "Put a lesson live",
        ),
        where: g.title,
      },
    ]
  },
}
