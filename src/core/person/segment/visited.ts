import * as v from "valibot"
import { refTo } from "../../reference"
import { among, type ConditionModule, day, days, daysWords, id, nameWords } from "./kind"

const schema = v.object({
  kind: v.literal("visited"),
  step: id,
  has: v.boolean(),
  /** In so many last days; null: ever. */
  days: v.nullable(days),
})

/** Has come to a step, as the river counts it: dated by the first time in a journey. */
export const visited: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "Pages they visited",
  schema,
  says: (c, name) =>
    `have ${c.has ? "" : "not "}visited ${nameWords(name("step", c.step))}${c.days === null ? "" : ` in the last ${daysWords(c.days)}`}`,
  sql: (c, now) =>
    among(
      c.has,
      "SELECT j.person_id FROM fact f JOIN journey j ON j.funnel_id = f.funnel_id AND j.visitor = f.visitor WHERE f.kind = 'arrived' AND f.step_id = ? AND f.at >= ? AND j.person_id IS NOT NULL",
      [c.step, new Date(c.days === null ? 0 : now - c.days * day)],
    ),
  refs: (c) => refTo("step", c.step, "asks who was there"),
  stranger: (c) => !c.has,
}
