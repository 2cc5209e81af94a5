import { aboutOf } from "@/core/sequence/effect/list"
import { admit } from "../../course/admission"
import { forEach } from "./perform"

export const openACourse = forEach((tx, e, person, { origin, order, at }) =>
  admit(tx, { person, opens: { course: aboutOf(e) }, origin, story: order?.story, at, title: e.name }),
)
