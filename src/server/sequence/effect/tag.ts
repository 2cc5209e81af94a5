import { aboutOf } from "@/core/sequence/effect/list"
import { putTagOn, takeTagOff } from "../../person/tag"
import type { Perform } from "./perform"

export const putATagOn: Perform = (tx, e, about) =>
  putTagOn(tx, { person: about.person, tag: aboutOf(e), at: about.at, name: e.name })

export const takeATagOff: Perform = (tx, e, about) =>
  takeTagOff(tx, { person: about.person, tag: aboutOf(e), at: about.at, name: e.name })
