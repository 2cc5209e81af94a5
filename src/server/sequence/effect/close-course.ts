import { aboutOf } from "@/core/sequence/effect/list"
import { endGiven } from "../../course/admission"
import { forEach } from "./perform"

export const closeACourse = forEach((tx, e, person, { at }) =>
  endGiven(tx, { person, course: aboutOf(e), at, title: e.name }),
)
