import { Temporal } from "temporal-polyfill"
import * as v from "valibot"
import { dayRule } from "../../calendar/days"
import { knownZone } from "../../calendar/zone"
import type { ConditionModule } from "./kind"

const date = dayRule()

const schema = v.object({
  kind: v.literal("joined-between"),
  /** Both days included, where the school is; null: open. */
  from: v.nullable(date),
  to: v.nullable(date),
  zone: v.pipe(v.string(), v.maxLength(64)),
})

/** The instants (ms) from which, and before which, somebody joined on these days. */
function span(c: v.InferOutput<typeof schema>): { readonly from: number; readonly before: number } {
  const zone = knownZone(c.zone, "UTC")
  const start = (day: string, plus: number) =>
    Temporal.PlainDate.from(day).add({ days: plus }).toZonedDateTime(zone).epochMilliseconds
  return {
    from: c.from === null ? 0 : start(c.from, 0),
    before: c.to === null ? Number.MAX_SAFE_INTEGER / 4 : start(c.to, 1),
  }
}

export const joinedBetween: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "The days on which they joined",
  schema,
  says: (c) =>
    c.from && c.to
      ? `joined from ${c.from} to ${c.to}`
      : c.from
        ? `joined on ${c.from} or later`
        : c.to
          ? `joined on ${c.to} or before`
          : "joined on any day",
  sql(c) {
    const { from, before } = span(c)
    return { sql: "(p.joined_at >= ? AND p.joined_at < ?)", values: [new Date(from), new Date(Math.min(before, 4e12))] }
  },
  refs: () => [],
  stranger: () => false,
}
