// Days in the address of a list, as instants; `to` is the last of them.
import { Temporal } from "temporal-polyfill"
import type { Between } from "@/server/affiliate/report"

export type AskedDays = { readonly from?: string; readonly to?: string }

export function between(asked: AskedDays, zone: string): Between {
  return { from: startOf(asked.from, zone, 0), to: startOf(asked.to, zone, 1) }
}

export function startOf(day: string | undefined, zone: string, after: number): number | null {
  if (!day || !/^\d{4}-\d{2}-\d{2}$/.test(day)) return null
  try {
    return Temporal.PlainDate.from(day).add({ days: after }).toZonedDateTime(zone).epochMilliseconds
  } catch {
    return null
  }
}
