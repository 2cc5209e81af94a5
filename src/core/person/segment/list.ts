// The kinds of condition, and what is asked of them without knowing which one it is.
import * as v from "valibot"
import { affiliate } from "./affiliate"
import { bought } from "./bought"
import { clicked } from "./clicked"
import { course } from "./course"
import { field } from "./field"
import { got } from "./got"
import { here } from "./here"
import { joined } from "./joined"
import { joinedBetween } from "./joined-between"
import type { ConditionModule } from "./kind"
import { lesson } from "./lesson"
import { opened } from "./opened"
import { plan } from "./plan"
import { progress } from "./progress"
import { receives } from "./receives"
import { saved } from "./saved"
import { signedIn } from "./signed-in"
import { source } from "./source"
import { spent } from "./spent"
import { survey } from "./survey"
import { tag } from "./tag"
import { visited } from "./visited"
import { waits } from "./waits"
import { zone } from "./zone"

const modules = {
  segment: saved,
  tag,
  joined,
  "joined-between": joinedBetween,
  source,
  course,
  waits,
  progress,
  lesson,
  survey,
  bought,
  spent,
  plan,
  here,
  visited,
  got,
  opened,
  clicked,
  field,
  receives,
  affiliate,
  zone,
  "signed-in": signedIn,
} as const

export type Condition = {
  [K in keyof typeof modules]: v.InferOutput<(typeof modules)[K]["schema"]>
}[keyof typeof modules]
export type ConditionKind = Condition["kind"]

/** Each kind by its name; a condition is handed to its own kind alone. */
export const conditionKinds = modules as unknown as Readonly<Record<ConditionKind, ConditionModule<Condition>>>

export const conditionSchema: v.GenericSchema<unknown, Condition> = v.variant(
  "kind",
  Object.values(modules).map((m) => m.schema) as never,
) as never
