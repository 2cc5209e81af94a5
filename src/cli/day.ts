// The day that `--on` names, for a demo or tests that are to begin on it.
import { school } from "@demo/lessons"
import { Temporal } from "temporal-polyfill"
import { Stop } from "./say"

/** "2026-12-31" (ten in the morning) or "2026-12-31T00:15", where the demo school is, as an ISO instant; otherwise `Stop`. */
export function instantOfDay(day: string): string {
  try {
    return Temporal.PlainDateTime.from(/T/.test(day) ? day : `${day}T10:00`)
      .toZonedDateTime(school.zone)
      .toInstant()
      .toString({ smallestUnit: "millisecond" })
  } catch {
    throw new Stop("--on wants a day such as 2026-12-31, or a minute such as 2026-12-31T00:15.")
  }
}
