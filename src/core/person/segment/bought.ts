import * as v from "valibot"
import { couponKey } from "../../offer/coupon"
import { refTo } from "../../reference"
import { among, type ConditionModule, day, days, daysWords, id, nameWords, type WayToPay, waysToPay } from "./kind"

const schema = v.object({
  kind: v.literal("bought"),
  /** Null: anything. */
  offer: v.nullable(id),
  has: v.boolean(),
  /** In so many last days; null: ever. */
  days: v.nullable(days),
  /** Paid so; not given: any way. */
  how: v.optional(v.picklist(waysToPay)),
  /** With this coupon, by its code; not given: with any or none. */
  coupon: v.optional(v.pipe(v.string(), v.trim(), v.maxLength(40))),
})

const howWords: Readonly<Record<WayToPay, string>> = {
  once: " at once",
  instalments: " in instalments",
  subscription: " by subscription",
}

const howSql: Readonly<Record<WayToPay, string>> = {
  once: "JSON_VALUE(l.plan, '$.recurring.every.unit') IS NULL",
  instalments: "JSON_VALUE(l.plan, '$.recurring.times') IS NOT NULL",
  subscription:
    "JSON_VALUE(l.plan, '$.recurring.every.unit') IS NOT NULL AND JSON_VALUE(l.plan, '$.recurring.times') IS NULL",
}

/** Paid for, and not given back as a whole. */
export const bought: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "What they bought",
  schema,
  says(c, name) {
    const what = c.offer === null ? (c.has ? "something" : "anything") : nameWords(name("offer", c.offer))
    const paid = (c.how ? howWords[c.how] : "") + (c.coupon ? ` with the coupon ${c.coupon}` : "")
    return `have ${c.has ? "" : "not "}bought ${what}${paid}${c.days === null ? "" : ` in the last ${daysWords(c.days)}`}`
  },
  sql: (c, now) =>
    among(
      c.has,
      `SELECT o.person_id FROM orders o JOIN order_line l ON l.order_id = o.id${c.coupon ? " JOIN coupon k ON k.id = o.coupon_id AND k.code_key = ?" : ""} WHERE o.state = 'paid' AND o.person_id IS NOT NULL${c.offer === null ? "" : " AND l.offer_id = ?"}${c.days === null ? "" : " AND o.paid_at >= ?"}${c.how ? ` AND ${howSql[c.how]}` : ""}`,
      [
        ...(c.coupon ? [couponKey(c.coupon)] : []),
        ...(c.offer === null ? [] : [c.offer]),
        ...(c.days === null ? [] : [new Date(now - c.days * day)]),
      ],
    ),
  refs: (c) => refTo("offer", c.offer, "asks who has bought it"),
  stranger: (c) => !c.has,
}
