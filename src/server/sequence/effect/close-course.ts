import { aboutOf } from "@/core/sequence/effect/list"
import { endGiven } from "../../course/admission"
import type { Perform } from "./perform"

export const closeACourse: Perform = (tx, e, about) =>
  endGiven(tx, { person: about.person, course: aboutOf(e), at: about.at, title: e.name })
