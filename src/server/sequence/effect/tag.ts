import { aboutOf } from "@/core/sequence/effect/list"
import { putTagsOn, takeTagOff } from "../../person/tag"
import { forEach, type Perform } from "./perform"

export const putATagOn: Perform = (tx, e, people, { at }) =>
  putTagsOn(
    tx,
    people.map((person) => ({ person, tag: aboutOf(e), at, name: e.name })),
  )

export const takeATagOff = forEach((tx, e, person, { at }) =>
  takeTagOff(tx, { person, tag: aboutOf(e), at, name: e.name }),
)
