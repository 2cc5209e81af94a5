// Days in the address of a list, as instants; `to` is the last of them.
import type { Between } from "@/server/affiliate/report"
import { dayStart } from "../asked"

export type AskedDays = { readonly from?: string; readonly to?: string }

export function between(asked: AskedDays, zone: string): Between {
  return { from: dayStart(asked.from, zone, 0), to: dayStart(asked.to, zone, 1) }
}
