import * as v from "valibot"
import { refTo } from "../../reference"
import { among, type ConditionModule, id, nameWords, type PlanState, planStates } from "./kind"

const schema = v.object({
  kind: v.literal("plan"),
  /** Null: of anything. */
  offer: v.nullable(id),
  state: v.picklist(planStates),
  has: v.boolean(),
})

const words: Readonly<Record<PlanState, string>> = {
  running: "that runs",
  behind: "whose card was refused",
  ended: "that has ended before its time",
  finished: "that is paid to the end",
}

export const plan: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "A plan they pay",
  schema,
  says: (c, name) =>
    `have ${c.has ? "a" : "no"} plan ${c.offer === null ? "" : `for ${nameWords(name("offer", c.offer))} `}${words[c.state]}`,
  sql: (c) =>
    among(
      c.has,
      `SELECT n.person_id FROM plan n JOIN order_line l ON l.id = n.order_line_id WHERE n.state = ?${c.offer === null ? "" : " AND l.offer_id = ?"}`,
      [c.state, ...(c.offer === null ? [] : [c.offer])],
    ),
  refs: (c) => refTo("offer", c.offer, "asks who pays for it"),
  stranger: (c) => !c.has,
}
