import * as v from "valibot"
import { refTo } from "../../reference"
import type { EffectModule } from "./kind"

const settings = v.object({ course: v.number() })

export const openCourse: EffectModule<v.InferOutput<typeof settings>> = {
  label: "open a course",
  says: (name) => `opens “${name}”`,
  chooses: "course",
  settings,
  of: (course) => ({ course }),
  refs: (s) => refTo("course", s.course, "opens it"),
}
