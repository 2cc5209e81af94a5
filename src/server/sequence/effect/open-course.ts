import { aboutOf } from "@/core/sequence/effect/list"
import { admit } from "../../course/admission"
import type { Perform } from "./perform"

export const openACourse: Perform = (tx, e, about) =>
  admit(tx, {
    person: about.person,
    opens: { course: aboutOf(e) },
    origin: about.origin,
    story: about.order?.story,
    at: about.at,
    title: e.name,
  })
