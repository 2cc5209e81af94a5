import * as v from "valibot"
import { refTo } from "../../reference"
import { foldValue, numberIn } from "../field"
import { among, type ConditionModule, id, nameWords } from "./kind"

/** How what is known of a field is compared: of numbers and dates from and to, both included. */
export const comparisons = ["is", "contains", "from", "to", "before", "after", "known"] as const

export type Comparison = (typeof comparisons)[number]

const schema = v.object({
  kind: v.literal("field"),
  field: id,
  how: v.picklist(comparisons),
  /** As it is kept; of a choice its number. Numbers are compared as numbers, dates and texts as texts. */
  value: v.pipe(v.string(), v.trim(), v.maxLength(200)),
  /** Whether the value is the number of a choice. */
  choice: v.optional(v.boolean(), false),
  has: v.boolean(),
})
type FieldCondition = v.InferOutput<typeof schema>

type Compared = {
  /** After "answered “…”"; empty: with anything. */
  says(value: string): string
  /** Of what is kept, with a place for a value where one is needed. */
  readonly sql: string
  value?(value: string): string | number
}

const compared: Readonly<Record<FieldCondition["how"], Compared>> = {
  is: { says: (x) => `with ${x}`, sql: "folded = ?" },
  contains: {
    says: (x) => `with something that contains ${x}`,
    sql: "LOCATE(?, folded) > 0",
  },
  from: {
    says: (x) => `with ${x} or more`,
    sql: "number >= ?",
    value: (x) => numberIn(x) ?? 0,
  },
  to: {
    says: (x) => `with ${x} or less`,
    sql: "number <= ?",
    value: (x) => numberIn(x) ?? 0,
  },
  before: { says: (x) => `with a day before ${x}`, sql: "folded < ?" },
  after: { says: (x) => `with a day after ${x}`, sql: "folded > ?" },
  known: { says: () => "", sql: "TRUE" },
}

/** What a field of theirs says. Of whom nothing is known, nothing holds, and its opposite does. */
export const field: ConditionModule<FieldCondition> = {
  label: "A field of theirs",
  schema,
  says: (c, name) => {
    const value = c.choice ? nameWords(name("choice", Number(c.value))) : `“${c.value}”`
    const asked = `${c.has ? "answered" : "didn’t answer"} ${nameWords(name("field", c.field))}`
    return `${asked} ${compared[c.how].says(value)}`.trim()
  },
  sql: (c) => {
    const how = compared[c.how]
    return among(c.has, `SELECT person_id FROM person_field WHERE field_id = ? AND ${how.sql}`, [
      c.field,
      ...(how.sql.includes("?") ? [how.value ? how.value(c.value) : foldValue(c.value)] : []),
    ])
  },
  refs: (c) => [
    ...refTo("field", c.field, "asks for it"),
    ...(c.choice ? refTo("choice", Number(c.value), "asks who chose it") : []),
  ],
  stranger: (c) => !c.has,
}
