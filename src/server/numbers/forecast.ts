// Forecasts: what is assumed of a funnel, kept beside it; and what was forecast, kept to be laid beside what happened.
import { Temporal } from "temporal-polyfill"
import * as v from "valibot"
import { readJson } from "@/core/json"
import { longestLag, type Past, rhythmOf } from "@/core/numbers/days"
import {
  type ForecastDocument,
  forecast,
  forecastDocument,
  forecastSteps,
  freshForecast,
} from "@/core/numbers/forecast"
import { type MadeDocument, madeDocument, madeOf } from "@/core/numbers/made"
import type { MeasuredStep } from "@/core/numbers/measured"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { keptBetween } from "../ledger/balance"
import { gone, ok, refusal, type Saved } from "../saved"
import { schoolZone } from "../school-view"
import type { Looking } from "./brought"
import { cashKnown } from "./cash"
import { measuredFunnel } from "./change-view"
import { rollSold } from "./roll-sold"

const day = 86_400_000
/** Days that are counted for a forecast. */
export const countedDays = 28

/** The last 28 days, to the quarter-hour. */
export const countedRange = (now: number) => {
  const to = Math.ceil(now / 900_000) * 900_000
  return { from: to - countedDays * day, to }
}

/** What is assumed of a funnel; where nothing is yet, as many visitors a day as came. */
export async function readForecast(
  s: Context,
  funnel: number,
  steps: readonly MeasuredStep[],
): Promise<ForecastDocument> {
  const row = await s.db.row<{ document: string }>("SELECT document FROM forecast WHERE funnel_id = ?", [funnel])
  if (row) return readJson(forecastDocument, row.document)
  const came = steps.reduce((n, x) => n + x.comes, 0) / countedDays
  return came > 0
    ? { ...freshForecast, sources: [{ name: "", perDay: Math.round(came * 10) / 10, click: 0 }] }
    : freshForecast
}

/** Keeps what is assumed, and what it comes to from tomorrow on. */
export async function saveForecast(s: Context, funnel: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(forecastDocument, typed)
  if (!read.success) return refusal(read.issues)
  if (!(await s.db.row("SELECT 1 FROM funnel WHERE id = ?", [funnel]))) return gone
  await writeForecast(s, funnel, read.output)
  return (await makeForecast(s, funnel)) ? ok : { refused: refusals.numbers.noForecast }
}

export const writeForecast = async (s: Context, funnel: number, doc: ForecastDocument) =>
  s.db.write(
    "INSERT INTO forecast (funnel_id, document, changed_at) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE document = VALUES(document), changed_at = VALUES(changed_at)",
    [funnel, JSON.stringify(doc), new Date(await s.clock.now())],
  )

/** Makes the forecast of a funnel from tomorrow on, by what is known now, and keeps it; false where none can be made of it. */
export async function makeForecast(s: Context, funnel: number): Promise<boolean> {
  const now = await s.clock.now()
  const found = await measuredFunnel(s, funnel, countedRange(now))
  if (!found) return false
  const doc = await readForecast(s, funnel, found.steps)
  const zone = await schoolZone(s.db)
  const tomorrow = Temporal.Instant.fromEpochMilliseconds(now).toZonedDateTimeISO(zone).toPlainDate().add({ days: 1 })
  let made: MadeDocument
  try {
    // As the funnel is: what is only tried out is no forecast of it.
    const plain = { ...doc, without: [], order: [], added: [] }
    const steps = forecastSteps(found.steps, plain, await cashKnown(s, funnel))
    const past = await pastOf(s.db, funnel, now)
    made = madeOf(steps, forecast(steps, found.steps, plain), plain, past, tomorrow.dayOfWeek - 1)
  } catch (error) {
    s.log.info(error, "no forecast can be made of a funnel")
    return false
  }
  await s.db.write(
    "INSERT INTO forecast_made (funnel_id, made_at, first_day, days, document) VALUES (?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE made_at = VALUES(made_at), days = VALUES(days), document = VALUES(document)",
    [funnel, new Date(now), tomorrow.toString(), doc.days, JSON.stringify(made)],
  )
  return true
}

/** How visitors of a funnel came, by the day of UTC, and how soon they bought. */
export async function pastOf(db: Db, funnel: number, now: number): Promise<Past> {
  const today = Math.floor(now / day) * day
  const from = new Date(today - longestLag * day)
  const came = await db.rows<{ day: string; n: number }>(
    `SELECT DATE_FORMAT(begun, '%Y-%m-%d') AS day, SUM(visited) AS n FROM (
       SELECT begun, visited FROM source_day WHERE funnel_id = ? AND begun >= ? AND begun < ?
       UNION ALL SELECT DATE(begun_at), visited FROM source_change WHERE funnel_id = ? AND begun_at >= ? AND begun_at < ?) d GROUP BY 1`,
    [funnel, from, new Date(today), funnel, from, new Date(today)],
  )
  const on = new Map(came.map((c) => [c.day, c.n]))
  const visitors = Array.from(
    { length: longestLag },
    (_, i) => on.get(new Date(from.getTime() + i * day).toISOString().slice(0, 10)) ?? 0,
  )
  while ((await rollSold(db)) > 0);
  const bought = await db.rows<{ after: number; n: number }>(
    `SELECT LEAST(?, GREATEST(0, TIMESTAMPDIFF(DAY, begun_at, made_at))) AS after, COUNT(*) AS n
     FROM sold_order WHERE funnel_id = ? AND begun_at >= ? AND made_at <= ? AND first_id = order_id GROUP BY 1`,
    [slowest, funnel, new Date(now - 365 * day), new Date(now)],
  )
  const all = bought.reduce((n, b) => n + b.n, 0)
  let sum = 0
  const buying = Array.from({ length: all > 0 ? slowest + 1 : 0 }, (_, a) => {
    sum += bought.find((b) => b.after === a)?.n ?? 0
    return sum / all
  })
  const began = visitors.findIndex((n) => n > 0)
  const rhythm = rhythmOf(began < 0 ? [] : visitors.slice(began), weekdayOf(today - day))
  // Of today it isn't known yet how many will have come: as many as on an average day like it.
  const late = visitors.slice(-countedDays)
  const usual = late.reduce((a, b) => a + b, 0) / late.length
  return { ...rhythm, visitors: [...visitors, usual * rhythm.weekdays[weekdayOf(today)]!], buying }
}

/** Whoever buys later than that after they came counts as having bought then, days. */
const slowest = 60

/** Of UTC, 0 for Monday. */
const weekdayOf = (at: number) => (new Date(at).getUTCDay() + 6) % 7

export type MadeForecast = {
  readonly firstDay: string
  readonly days: number
  readonly madeAt: number
  readonly document: MadeDocument
}

/** The forecasts of a funnel, the latest first. */
export async function forecastsMade(db: Db, funnel: number, atMost = 60): Promise<MadeForecast[]> {
  const rows = await db.rows<{ first_day: string; days: number; made_at: Date; document: string }>(
    "SELECT DATE_FORMAT(first_day, '%Y-%m-%d') AS first_day, days, made_at, document FROM forecast_made WHERE funnel_id = ? ORDER BY forecast_made.first_day DESC LIMIT ?",
    [funnel, atMost],
  )
  return rows.map((r) => ({
    firstDay: r.first_day,
    days: r.days,
    madeAt: r.made_at.getTime(),
    document: readJson(madeDocument, r.document),
  }))
}

/**
 * How many were forecast to come to each step on some days of the school (YYYY-MM-DD, both among them), as far as they are over: of each day
 * by the latest forecast before it, of today by the hours that are.
 */
export async function forecastOfDays(
  s: Looking,
  funnel: number,
  from: string,
  to: string,
): Promise<{ readonly visits: ReadonlyMap<number, number>; readonly days: number; readonly of: number }> {
  const zone = await schoolZone(s.db)
  const now = Temporal.Instant.fromEpochMilliseconds(await s.clock.now()).toZonedDateTimeISO(zone)
  const made = await forecastsMade(s.db, funnel, 400)
  const visits = new Map<number, number>()
  let days = 0
  const last = Temporal.PlainDate.compare(to, now.toPlainDate()) > 0 ? now.toPlainDate() : Temporal.PlainDate.from(to)
  const of = Math.max(0, Temporal.PlainDate.from(from).until(last, { largestUnit: "days" }).days + 1)
  const earliest = made.at(-1)?.firstDay ?? to
  const first = earliest > from ? earliest : from
  for (let d = Temporal.PlainDate.from(first); Temporal.PlainDate.compare(d, last) <= 0; d = d.add({ days: 1 })) {
    const forecast = made.find((m) => m.firstDay <= d.toString() && placeOf(m, d) < m.days)
    if (!forecast) continue
    days++
    const part = d.equals(now.toPlainDate()) ? (now.hour + now.minute / 60) / 24 : 1
    for (const v of forecast.document.visits)
      visits.set(v.step, (visits.get(v.step) ?? 0) + (v.n / forecast.days) * part)
  }
  return { visits, days, of }
}

/** Which of a forecast's days it is, from 0. */
export const placeOf = (m: MadeForecast, day: Temporal.PlainDate) =>
  Temporal.PlainDate.from(m.firstDay).until(day, { largestUnit: "days" }).days

/** What a funnel kept on each day of the school's zone, from `from` (YYYY-MM-DD) on; null: the day isn't over. Minor units. */
export async function keptByDay(
  s: Looking,
  funnel: number,
  from: string,
  days: number,
  currency: string,
): Promise<(number | null)[]> {
  const zone = await schoolZone(s.db)
  const now = await s.clock.now()
  const first = Temporal.PlainDate.from(from)
  const starts = Array.from(
    { length: days + 1 },
    (_, i) => first.add({ days: i }).toZonedDateTime(zone).epochMilliseconds,
  )
  const rows = await keptBetween(s.db, { funnel, currency, from: starts[0]!, to: starts[days]! })
  return Array.from({ length: days }, (_, i) =>
    starts[i + 1]! > now
      ? null
      : rows.filter((r) => r.at >= starts[i]! && r.at < starts[i + 1]!).reduce((n, r) => n + r.kept, 0),
  )
}

/** Each Monday of the school every funnel to which somebody came lately is forecast anew; gives how many were. */
export async function weeklyForecasts(s: Context): Promise<number> {
  const now = await s.clock.now()
  const today = Temporal.Instant.fromEpochMilliseconds(now)
    .toZonedDateTimeISO(await schoolZone(s.db))
    .toPlainDate()
  if (today.dayOfWeek !== 1) return 0
  const due = await s.db.rows<{ id: number }>(
    `SELECT f.id FROM funnel f WHERE EXISTS (SELECT 1 FROM source_day d WHERE d.funnel_id = f.id AND d.begun >= ?)
       AND NOT EXISTS (SELECT 1 FROM forecast_made m WHERE m.funnel_id = f.id AND m.first_day > ?) LIMIT 20`,
    [new Date(now - countedDays * day), today.toString()],
  )
  let made = 0
  for (const { id } of due) if (await makeForecast(s, id)) made++
  return made
}
