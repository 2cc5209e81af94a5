// Reports of a period: made of what Numbers shows, and mailed each Monday to whoever wants it.
import { Temporal } from "temporal-polyfill"
import { whatFirst } from "@/core/numbers/measured"
import type { Report, ReportRow } from "@/core/numbers/report"
import type { Config } from "../config"
import type { Db } from "../db/pool"
import { keptSheet } from "../draw/draw"
import { queueMail } from "../queue-mail"
import { schoolRow, schoolZone } from "../school-view"
import { type Looking, mostKept } from "./brought"
import { type BroughtRow, broughtTable, type Period } from "./brought-view"
import { measuredFunnel } from "./change-view"
import { daysOver } from "./days-view"

/** Sources that a report names; the others are in the CSV. */
const mostSources = 12

/** A report of a period, of one funnel or of all. Purchases count for where their buyer first came from. */
export async function reportOf(s: Looking, period: Period, funnel: number | null): Promise<Report> {
  const table = await broughtTable(s, "source", period, { funnel, credit: "first" })
  const row = (b: BroughtRow): ReportRow => ({
    name: b.name,
    visited: b.now.visited,
    joined: b.now.joined,
    bought: b.now.bought,
    income: b.now.income,
    kept: b.now.kept,
    click: b.click,
    cost: b.cost?.cost ?? null,
    verdict: b.cost?.verdict ?? null,
  })
  const of = funnel ?? (await mostKept(s.db, period.range, table.currency))
  const found = of === null ? undefined : await measuredFunnel(s, of, period.range)
  const [first] = found ? whatFirst(found.steps).first : []
  const over = of === null ? null : await daysOver(s, of)
  return {
    school: (await schoolRow(s.db))?.name ?? "",
    from: period.from,
    to: period.to,
    funnel: funnel === null ? null : (found?.name ?? null),
    currency: table.currency,
    margin: table.margin,
    all: row(table.all),
    value: table.all.value,
    incomeBefore: table.all.before.income,
    sources: table.rows.slice(0, mostSources).map(row),
    first:
      first && first.perPoint > 0 ? { step: first.name, done: first.outcomeOf.done, perPoint: first.perPoint } : null,
    forecast: over && over.of > 0 ? { within: over.within, of: over.of } : null,
  }
}

/** As PDF; throws `TooBusy`. */
export const reportFile = async (
  config: Config,
  r: Report,
): Promise<{ readonly name: string; readonly bytes: Uint8Array }> => ({
  name: `numbers-${r.from}-${r.to}.pdf`,
  bytes: await keptSheet(config, null, "report", r.funnel === null ? "all" : "one", r),
})

/** Whole days of the school's zone as a period, with as many before them. */
export function daysOf(from: Temporal.PlainDate, to: Temporal.PlainDate, zone: string): Period {
  const days = from.until(to, { largestUnit: "days" }).days + 1
  const at = (date: Temporal.PlainDate) => date.toZonedDateTime(zone).epochMilliseconds
  return {
    from: from.toString(),
    to: to.toString(),
    range: { from: at(from), to: at(to.add({ days: 1 })) },
    before: { from: at(from.subtract({ days })), to: at(from) },
  }
}

/** From this hour of a Monday on it is mailed. */
const hour = 6

/** Mails the week before, on Mondays, to each account that wants it; gives how many were put in line. */
export async function mondayReports(s: Looking): Promise<number> {
  const now = await s.clock.now()
  const at = Temporal.Instant.fromEpochMilliseconds(now).toZonedDateTimeISO(await schoolZone(s.db))
  if (at.dayOfWeek !== 1 || at.hour < hour) return 0
  const monday = at.toPlainDate()
  const accounts = await s.db.rows<{ id: number; email: string; name: string }>(
    "SELECT id, email, name FROM account a WHERE mails_report = 1 AND NOT EXISTS (SELECT 1 FROM mail m WHERE m.once = CONCAT('report:', a.id, ':', ?))",
    [monday.toString()],
  )
  for (const a of accounts)
    await queueMail(s.db, {
      once: `report:${a.id}:${monday}`,
      kind: "report",
      to_email: a.email,
      to_name: a.name,
      note: monday.toString(),
      due_at: new Date(now),
    })
  return accounts.length
}

/** The week before a Monday, both as days of the school. */
export async function weekBefore(db: Db, monday: string): Promise<Period> {
  const day = Temporal.PlainDate.from(monday)
  return daysOf(day.subtract({ days: 7 }), day.subtract({ days: 1 }), await schoolZone(db))
}
