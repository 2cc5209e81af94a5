import * as v from "valibot"
import { currencies, moneyText } from "../../offer/money"
import { among, type ConditionModule, day, days, daysWords } from "./kind"

const schema = v.object({
  kind: v.literal("spent"),
  /** At least so much, in minor units of the currency. */
  least: v.pipe(v.number(), v.integer(), v.minValue(1)),
  currency: v.picklist(currencies),
  has: v.boolean(),
  /** In so many last days; null: ever. */
  days: v.nullable(days),
})

/** Paid in all, less what was given back; other currencies are not counted. */
export const spent: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "How much they paid",
  schema,
  says: (c) =>
    `have ${c.has ? "" : "not "}paid ${moneyText(c.least, c.currency)} or more${c.days === null ? "" : ` in the last ${daysWords(c.days)}`}`,
  sql: (c, now) =>
    among(
      c.has,
      "SELECT o.person_id FROM charge h JOIN orders o ON o.id = h.order_id WHERE h.state = 'succeeded' AND h.currency = ? AND h.settled_at >= ? AND o.person_id IS NOT NULL GROUP BY o.person_id HAVING SUM(h.gross - h.refunded) >= ?",
      [c.currency, new Date(c.days === null ? 0 : now - c.days * day), c.least],
    ),
  refs: () => [],
  stranger: (c) => !c.has,
}
