// What an address of Numbers asks for.
import { Temporal } from "temporal-polyfill"
import { type BroughtBy, broughtBys } from "@/core/numbers/brought"
import type { AskedTable, Period } from "@/server/numbers/brought-view"
import { dayStart } from "../asked"

export type AskedNumbers = {
  readonly by?: string
  readonly from?: string
  readonly to?: string
  readonly funnel?: string
  readonly credit?: string
}

/** How many days there are, where none are said. */
const usualDays = 28

/** What the table is by: `field-3` is the third field of people. */
export function byOf({ by = "" }: AskedNumbers): { readonly by: BroughtBy; readonly field: number | null } {
  const field = Number(/^field-(\d{1,9})$/.exec(by)?.[1] ?? 0)
  if (field) return { by: "field", field }
  return { by: by !== "field" && Object.hasOwn(broughtBys, by) ? (by as BroughtBy) : "source", field: null }
}

export const tableOf = (asked: AskedNumbers): AskedTable => ({
  funnel: funnelOf(asked),
  credit: asked.credit === "made" ? "made" : "first",
  field: byOf(asked).field,
})

export const funnelOf = ({ funnel = "" }: AskedNumbers): number | null =>
  /^[1-9]\d{0,8}$/.test(funnel) ? Number(funnel) : null

/** The days that are asked for: the last 28 with today, where none are, they lie the wrong way round or not in our millennium. */
export function periodOf(asked: AskedNumbers, zone: string, now: number): Period {
  const today = Temporal.Instant.fromEpochMilliseconds(now).toZonedDateTimeISO(zone).toPlainDate()
  const plain = (day: string | undefined) =>
    !/^2/.test(day ?? "") || dayStart(day, zone, 0) === null ? null : Temporal.PlainDate.from(day!)
  const to = plain(asked.to) ?? today
  const asks = plain(asked.from)
  const from = asks && Temporal.PlainDate.compare(asks, to) <= 0 ? asks : to.subtract({ days: usualDays - 1 })
  const days = from.until(to, { largestUnit: "days" }).days + 1
  const at = (day: Temporal.PlainDate) => day.toZonedDateTime(zone).epochMilliseconds
  return {
    from: from.toString(),
    to: to.toString(),
    range: { from: at(from), to: at(to.add({ days: 1 })) },
    before: { from: at(from.subtract({ days })), to: at(from) },
  }
}
