import * as v from "valibot"
import { courseGiven } from "../../offer/gift/list"
import { giftsOf, isFree } from "../../offer/offer"
import { refTo } from "../../reference"
import { checkCourse, found } from "../finding"
import type { EffectModule } from "./kind"

const settings = v.object({ course: v.number() })

export const openCourse: EffectModule<v.InferOutput<typeof settings>> = {
  label: "open a course",
  says: (name) => `opens “${name}”`,
  chooses: "course",
  settings,
  of: (course) => ({ course }),
  refs: (s) => refTo("course", s.course, "opens it"),
  check(effect, { step, funnel, context: { selling, doors }, free }) {
    const { course: id } = v.parse(settings, effect.settings)
    const course = funnel.courses.find((c) => c.id === id)
    const list = course ? checkCourse(course, step) : []
    if (free && doors.get(id)?.signUpClosed && !doors.get(id)?.closed)
      list.push(
        found(
          "sign-up-closed",
          step,
          { course: effect.name, step: step.name },
          { go: "course", course: id, room: "settings" },
        ),
      )
    const sold = free
      ? [...selling.offers.values()].find(
          (o) => !isFree(o) && giftsOf(o, selling.offers).some((g) => courseGiven(g) === id),
        )
      : undefined
    if (sold)
      list.push(
        found(
          "free-form-gives-paid",
          step,
          { course: effect.name, offer: sold.publicName },
          { go: "wiring", step: step.id },
        ),
      )
    return list
  },
}
