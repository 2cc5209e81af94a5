// The school's calendar for other programs: an address that only whoever has it can read, answered as iCalendar (RFC 5545). Nobody is named
// in it.
import ical, { ICalCalendarMethod } from "ical-generator"
import { placeOf } from "@/core/calendar/days"
import { entryKinds } from "@/core/calendar/entry"
import type { Context } from "../context"
import { schoolZone } from "../school-view"
import { sign, verifyId } from "../sign"
import { entriesBetween } from "./entries"

const day = 86_400_000
/** How far it goes back and ahead, ms. */
const reach = { back: 60 * day, ahead: 400 * day }

/** The address, or null where none was made. */
export async function feedAddress(s: Context): Promise<string | null> {
  const row = await s.db.row<{ n: number }>("SELECT calendar_address AS n FROM school WHERE id = 1")
  return row?.n ? `${s.config.origin}/calendar/school/${sign(s.config.secret, "feed", String(row.n))}.ics` : null
}

/** Makes a new one; the one before works no more. */
export async function newFeedAddress(s: Context): Promise<void> {
  await s.db.write("UPDATE school SET calendar_address = calendar_address + 1 WHERE id = 1")
}

/** What stands at an address, or null where it is none. */
export async function feedText(s: Context, token: string): Promise<string | null> {
  const n = verifyId(s.config.secret, "feed", token)
  const school = await s.db.row<{ n: number; name: string }>(
    "SELECT calendar_address AS n, name FROM school WHERE id = 1",
  )
  if (n === null || !school || n !== school.n) return null
  const zone = await schoolZone(s.db)
  const now = await s.clock.now()
  const host = new URL(s.config.origin).hostname
  const calendar = ical({
    prodId: "//Swift Heron//EN",
    name: school.name,
    method: ICalCalendarMethod.PUBLISH,
    ttl: 3600,
  })
  for (const e of await entriesBetween(s, now - reach.back, now + reach.ahead, zone))
    calendar.createEvent({
      id: `${e.kind}-${e.id}@${host}`,
      stamp: new Date(now),
      start: e.wholeDay ? new Date(`${placeOf(e.at, zone).day}T00:00:00Z`) : new Date(e.at),
      ...(e.wholeDay ? { allDay: true, timezone: null } : { end: new Date(e.at + (e.minutes ?? 0) * 60_000) }),
      summary: `${entryKinds[e.kind]}: ${e.title}`,
      description: e.detail,
      url: `${s.config.origin}${e.href}`,
    })
  return calendar.toString()
}
