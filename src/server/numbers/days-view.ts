// A funnel day by day: what was forecast, what came, and how good earlier forecasts were.
import { Temporal } from "temporal-polyfill"
import { type DayBand, within } from "@/core/numbers/days"
import { sellingRules } from "../offer/offer"
import type { Looking } from "./brought"
import { forecastsMade, keptByDay, type MadeForecast, placeOf } from "./forecast"

export type DayOver = {
  /** Of the school's zone, YYYY-MM-DD. */
  readonly day: string
  /** What the latest forecast before it said; null: there was none. */
  readonly band: DayBand | null
  /** Minor units; null: the day isn't over. */
  readonly kept: number | null
}

export type EarlierForecast = {
  readonly firstDay: string
  readonly lastDay: string
  /** What it said of the days that are over, what came, and how many lay within. */
  readonly said: number
  readonly came: number
  readonly within: number
  readonly of: number
}

export type DaysOver = {
  readonly days: readonly DayOver[]
  readonly within: number
  readonly of: number
  readonly earlier: readonly EarlierForecast[]
  /** What the latest forecast says of the visitors of its days. */
  readonly latest: MadeForecast | null
  readonly currency: string
}

/** Days that are looked back, and ahead. */
const [back, ahead] = [35, 28]

export async function daysOver(s: Looking, funnel: number): Promise<DaysOver> {
  const { currency, zone } = await sellingRules(s.db)
  const made = await forecastsMade(s.db, funnel)
  const told = made.slice(0, 12)
  const today = Temporal.Instant.fromEpochMilliseconds(await s.clock.now())
    .toZonedDateTimeISO(zone)
    .toPlainDate()
  const first = today.subtract({ days: back })
  const earliest = told.map((m) => Temporal.PlainDate.from(m.firstDay)).sort(Temporal.PlainDate.compare)[0] ?? first
  const since = Temporal.PlainDate.compare(earliest, first) < 0 ? earliest : first
  const all = await keptByDay(
    s,
    funnel,
    since.toString(),
    since.until(first, { largestUnit: "days" }).days + back + ahead,
    currency,
  )
  const from = (day: Temporal.PlainDate) => all.slice(since.until(day, { largestUnit: "days" }).days)
  const kept = from(first)
  const days = Array.from({ length: back + ahead }, (_, i): DayOver => {
    const day = first.add({ days: i })
    const of = made.find((m) => m.firstDay <= day.toString() && placeOf(m, day) < m.days)
    return { day: day.toString(), band: of?.document.bands[placeOf(of, day)] ?? null, kept: kept[i]! }
  })
  const banded = days.filter((d) => d.band)
  const lay = within(
    banded.map((d) => d.band!),
    banded.map((d) => d.kept),
  )
  const earlier: EarlierForecast[] = []
  for (const m of told) {
    // Of days that lie further ahead nothing is known either.
    const was = from(Temporal.PlainDate.from(m.firstDay)).slice(0, m.days)
    const over = was.filter((w) => w !== null)
    if (!over.length) continue
    const { bands } = m.document
    earlier.push({
      firstDay: m.firstDay,
      lastDay: Temporal.PlainDate.from(m.firstDay)
        .add({ days: over.length - 1 })
        .toString(),
      said: bands.slice(0, over.length).reduce((n, b) => n + b.mean, 0),
      came: over.reduce((n, w) => n + w, 0),
      ...within(bands, was),
    })
  }
  return { days, ...lay, earlier, latest: made[0] ?? null, currency }
}
