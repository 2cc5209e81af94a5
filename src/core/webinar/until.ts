// Until when something is there for somebody: to the end of a day, where they are. One instant, that the page says, the mail says, and the
// server keeps.
import { Temporal } from "temporal-polyfill"
import { momentIn } from "../words/moment"

/**
 * The instant at which the last day ends: `days` days after the one on which `from` lies, in a zone. Where midnight doesn't exist, the
 * first instant of the next day.
 *
 * @param from ms since 1970, UTC
 * @returns ms; at it, it is over
 */
export function dayEnd(from: number, days: number, zone: string): number {
  const day = Temporal.Instant.fromEpochMilliseconds(from).toZonedDateTimeISO(zone).toPlainDate()
  return day.add({ days: days + 1 }).toZonedDateTime(zone).epochMilliseconds
}

/** "Sunday, 6 December 2026 at 23:59": the last minute in which it is there. */
export const untilWords = (end: number, zone: string): string => momentIn(end - 60_000, zone)
