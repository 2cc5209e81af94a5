import { studio } from "@/app/guard"
import { boundsOf, dayOr, placeOf, type Span, shownAround } from "@/core/calendar/days"
import { entriesBetween } from "@/server/calendar/entries"
import { feedAddress } from "@/server/calendar/feed"
import { schoolZone } from "@/server/school-view"
import { PlaceTabs } from "../place-tabs"
import { CalendarView } from "./calendar-view"

export const metadata = { title: "Calendar" }

const spans = ["month", "week", "list"] as const

export default async function CalendarPage({
  searchParams,
}: {
  searchParams: Promise<{ view?: string; on?: string }>
}) {
  const s = await studio()
  const asked = await searchParams
  const zone = await schoolZone(s.db)
  const today = placeOf(await s.clock.now(), zone).day
  const span: Span = spans.find((x) => x === asked.view) ?? "month"
  const on = dayOr(asked.on, today)
  const shown = shownAround(on, span)
  const { from, to } = boundsOf(shown.days, zone)
  const entries = await entriesBetween(s, from, to, zone)
  return (
    <div className="mx-auto max-w-6xl">
      <PlaceTabs of="calendar" className="mt-2" />
      <CalendarView
        span={span}
        on={on}
        today={today}
        zone={zone}
        {...shown}
        entries={entries.map((e) => ({ ...e, ...placeOf(e.at, zone) }))}
        address={await feedAddress(s)}
      />
    </div>
  )
}
