import * as v from "valibot"
import { found } from "../../finding"
import { refTo } from "../../reference"
import { words } from "../../words/en"
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
  shown: (g) => words.offer.gives.course(g.title, g.lessons),
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
    return [
      found(
        "course-not-ready",
        step,
        g.state === "draft" ? { why: "sold-draft", course: g.title, empty } : { why: "sold-empty", course: g.title },
        empty ? { go: "course", course: g.course } : { act: "course-live", course: g.course },
        { where: g.title },
      ),
    ]
  },
}
