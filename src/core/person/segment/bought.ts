import * as v from "valibot"
import { refTo } from "../../reference"
import { among, type ConditionModule, day, days, daysWords, id, nameWords } from "./kind"

const schema = v.object({
  kind: v.literal("bought"),
  /** Null: anything. */
  offer: v.nullable(id),
  has: v.boolean(),
  /** In so many last days; null: ever. */
  days: v.nullable(days),
})

/** Paid for, and not given back as a whole. */
export const bought: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "What they bought",
  schema,
  says(c, name) {
    const what = c.offer === null ? (c.has ? "something" : "anything") : nameWords(name("offer", c.offer))
    return `have ${c.has ? "" : "not "}bought ${what}${c.days === null ? "" : ` in the last ${daysWords(c.days)}`}`
  },
  holds(c, who, now) {
    const since = c.days === null ? Number.NEGATIVE_INFINITY : now - c.days * day
    return who.bought.some((b) => (c.offer === null || b.offer === c.offer) && b.at >= since) === c.has
  },
  sql: (c, now) =>
    among(
      c.has,
      `SELECT o.person_id FROM orders o JOIN order_line l ON l.order_id = o.id WHERE o.state = 'paid' AND o.person_id IS NOT NULL${c.offer === null ? "" : " AND l.offer_id = ?"}${c.days === null ? "" : " AND o.paid_at >= ?"}`,
      [...(c.offer === null ? [] : [c.offer]), ...(c.days === null ? [] : [new Date(now - c.days * day)])],
    ),
  refs: (c) => refTo("offer", c.offer, "asks who has bought it"),
  stranger: (c) => !c.has,
}
