// A course as others show it: its title, its lessons, and whether they are live.
import * as v from "valibot"

const either = v.picklist(["draft", "live"])

/** As it is kept with a release and a version of a sequence; those from before know less of it. */
export const courseCardSchema = v.object({
  id: v.number(),
  slug: v.string(),
  title: v.string(),
  promise: v.string(),
  teacher: v.string(),
  state: either,
  lessons: v.array(
    v.object({
      id: v.number(),
      title: v.string(),
      minutes: v.number(),
      state: either,
      /** The module it stands in; empty: none, or not known. */
      module: v.optional(v.string(), ""),
      /** Whether everybody may open it. */
      free: v.optional(v.boolean(), false),
    }),
  ),
  /** What one will be able to do afterwards. */
  promises: v.optional(v.array(v.string()), []),
})

/** What of a course shows on pages and in mails. */
export type CourseCard = v.InferOutput<typeof courseCardSchema>
