import * as v from "valibot"
import { refTo } from "../../reference"
import type { EffectModule } from "./kind"

const settings = v.object({ course: v.number() })

/** What they paid for stays theirs. */
export const closeCourse: EffectModule<v.InferOutput<typeof settings>> = {
  label: "close a course that was given",
  says: (name) => `closes “${name}”, unless it was bought`,
  chooses: "course",
  settings,
  of: (course) => ({ course }),
  refs: (s) => refTo("course", s.course, "closes it"),
}
