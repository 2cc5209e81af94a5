// Backtest: what was known of the demo's sales funnel at the beginning of each week forecasts that week.
import { loadDemo } from "@demo/load"
import { Temporal } from "temporal-polyfill"
import { afterAll, beforeAll, expect, it } from "vitest"
import { type DayBand, within } from "@/core/numbers/days"
import { forecastsMade, keptByDay, makeForecast } from "@/server/numbers/forecast"
import { schoolZone } from "@/server/school-view"
import { type TestSchool, testSchool } from "../support/school"

// The demo is the same for the same instant.
const now = Date.parse("2026-11-30T11:00:00Z")

let t: TestSchool
beforeAll(async () => {
  t = await testSchool("backtest")
  await loadDemo(t.s, 1_000, now)
  t.set(now)
})
afterAll(() => t.end())

it("of the first half says the second: four days out of five lie within its band, more or less", async () => {
  const zone = await schoolZone(t.s.db)
  const today = Temporal.Instant.fromEpochMilliseconds(now).toZonedDateTimeISO(zone)
  await t.s.db.write("DELETE FROM forecast")
  const bands: DayBand[] = []
  const was: (number | null)[] = []
  // The sales funnel has a year; each week of its second half is forecast by what was known before it.
  for (let week = 26; week >= 1; week--) {
    const at = today.subtract({ weeks: week })
    const past = { ...t.s, clock: { now: async () => at.epochMilliseconds } }
    await t.s.db.write("DELETE FROM forecast_made")
    expect(await makeForecast(past, 2)).toBe(true)
    const [made] = await forecastsMade(t.s.db, 2)
    expect(made!.firstDay).toBe(at.toPlainDate().add({ days: 1 }).toString())
    bands.push(...made!.document.bands.slice(0, 7))
    was.push(...(await keptByDay(t.s, 2, made!.firstDay, 7, "EUR")))
  }
  const lay = within(bands, was)
  const share = lay.within / lay.of
  console.info(`backtest: ${lay.within} of ${lay.of} days within the band, ${(100 * share).toFixed(1)} %`)
  expect(lay.of).toBeGreaterThan(150)
  expect(share).toBeGreaterThanOrEqual(0.7)
  expect(share).toBeLessThanOrEqual(0.9)
})
