// The end of the river: the learning area, where a course opens.
import * as v from "valibot"
import { found } from "../../finding"
import { courseGiven } from "../../offer/gift/list"
import { giftsOf } from "../../offer/offer"
import { refTo } from "../../reference"
import type { StepModule } from "./kind"

const settings = v.object({ course: v.optional(v.nullable(v.number()), null) })

export const learning: StepModule<never, v.InferOutput<typeof settings>> = {
  label: "learning area",
  outcomes: {},
  entry: false,
  hasPage: false,
  settings,
  refs: (s) => refTo("course", s.course, "leads to it"),
  opens: (s) => s.course,
  check({ step, funnel, context: { selling }, kinds }) {
    const { course } = v.parse(settings, step.settings)
    // What gives files or something by post needs no course: it stands in the learning area by itself.
    const withoutCourse = funnel.steps.some((s) => {
      const { sells } = kinds[s.kind]
      const offer = sells?.as === "first" ? selling.offers.get(sells.of(s.settings).offer ?? 0) : undefined
      const gifts = offer ? giftsOf(offer, selling.offers) : []
      return gifts.length > 0 && gifts.every((g) => courseGiven(g) === null)
    })
    if (course !== null || withoutCourse) return []
    return [found("course-not-ready", step, { why: "none" }, { go: "wiring", step: step.id })]
  },
}
