// What addresses of the studio ask for.
import { notFound } from "next/navigation"
import { Temporal } from "temporal-polyfill"

/** The number in an address, or the page that says nothing stands there. */
export function idOf(part: string): number {
  return /^[1-9]\d{0,8}$/.test(part) ? Number(part) : notFound()
}

/** The page of a list that an address asks for, counted from 0; in addresses from 1. */
export const pageOf = (asked: string | undefined): number =>
  /^[1-9]\d{0,5}$/.test(asked ?? "") ? Math.min(100_000, Number(asked) - 1) : 0

/** When a day (YYYY-MM-DD) of the school's zone begins, or one so many days after it; null where it is none. Instant, ms. */
export function dayStart(day: string | undefined, zone: string, after: number): number | null {
  if (!day || !/^\d{4}-\d{2}-\d{2}$/.test(day)) return null
  try {
    return Temporal.PlainDate.from(day).add({ days: after }).toZonedDateTime(zone).epochMilliseconds
  } catch {
    return null
  }
}
