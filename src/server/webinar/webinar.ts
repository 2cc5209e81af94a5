// Webinars as they are kept.

import * as v from "valibot"
import type { WebinarFacts } from "@/core/funnel/finding"
import { mayBeLate } from "@/core/funnel/preflight-webinar"
import { readJson } from "@/core/json"
import { flowSchema } from "@/core/sequence/document"
import { dayEnd } from "@/core/webinar/until"
import { newWebinar, refsOfWebinar, type Webinar, webinarFields, webinarSchema } from "@/core/webinar/webinar"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { writeReferences } from "../reference"
import { gone, type Made, ok, refusal, type Saved } from "../saved"
import { type Before, reconcile, type SavedShared, type Stored } from "../shared"
import { writeDates } from "./dates"

/** How many webinars there may be. */
const atMost = 100

type ListedRow = { readonly id: number; readonly document: string; readonly revision: number }

const readDocument = (json: string): Webinar => v.parse(webinarSchema, JSON.parse(json))

export type WebinarListed = {
  readonly id: number
  readonly webinar: Webinar
  /** The next date, and how many have a seat then; null: there is none to come. */
  readonly next: { readonly at: Date; readonly registered: number } | null
  /** How many dates lie behind. */
  readonly behind: number
}

/** By title. */
export async function listWebinars(s: Context): Promise<WebinarListed[]> {
  const now = new Date(await s.clock.now())
  const rows = await s.db.rows<ListedRow & { next: Date | null; registered: number; behind: number }>(
    `SELECT w.id, w.document, w.revision, d.starts_at AS next,
       (SELECT COUNT(*) FROM registration r WHERE r.date_id = d.id AND r.state = 'registered') AS registered,
       (SELECT COUNT(*) FROM webinar_date x WHERE x.webinar_id = w.id AND x.called_off_at IS NULL AND x.starts_at < ?) AS behind
     FROM webinar w LEFT JOIN webinar_date d ON d.id = (SELECT y.id FROM webinar_date y WHERE y.webinar_id = w.id AND y.called_off_at IS NULL AND y.starts_at >= ? ORDER BY y.starts_at LIMIT 1)
     ORDER BY w.name, w.id LIMIT ?`,
    [now, now, atMost],
  )
  return rows.map((r) => ({
    id: r.id,
    webinar: readDocument(r.document),
    next: r.next && { at: r.next, registered: r.registered },
    behind: r.behind,
  }))
}

export async function readWebinar(db: Db, id: number): Promise<Stored<Webinar> | undefined> {
  const row = await db.row<ListedRow>("SELECT id, document, revision FROM webinar WHERE id = ?", [id])
  return row && { revision: row.revision, value: readDocument(row.document) }
}

/** A new one, without a date. */
export async function newWebinarOf(s: Context, title: unknown): Promise<Made> {
  const read = v.safeParse(webinarFields.title, title)
  if (!read.success) return refusal(read.issues)
  const n = await s.db.row<{ n: number }>("SELECT COUNT(*) AS n FROM webinar")
  if ((n?.n ?? 0) >= atMost) return { refused: refusals.value.most(atMost) }
  const school = await s.db.row<{ zone: string; sender: string }>(
    "SELECT zone, sender_name AS sender FROM school WHERE id = 1",
  )
  const made = await s.db.insert("webinar", {
    name: read.output,
    document: JSON.stringify(newWebinar(read.output, school?.zone ?? "UTC", school?.sender ?? "")),
    made_at: new Date(await s.clock.now()),
  })
  return { ok: true, id: made.id }
}

const input = v.partial(v.object(webinarFields))

/** Saves a webinar, and its dates with it; what isn't given stays as it is. */
export async function saveWebinar(
  s: Context,
  id: number,
  typed: unknown,
  before?: Before,
): Promise<SavedShared<Webinar>> {
  const read = v.safeParse(input, typed)
  if (!read.success) return refusal(read.issues)
  const now = await s.clock.now()
  return s.db.transaction(async (tx): Promise<SavedShared<Webinar>> => {
    const row = await tx.row<ListedRow>("SELECT id, document, revision FROM webinar WHERE id = ? FOR UPDATE", [id])
    if (!row) return gone
    const was = { revision: row.revision, value: readDocument(row.document) }
    const done = reconcile({ ...was.value, ...read.output }, was, before)
    if ("clash" in done) return done
    const { deal } = done.write
    if (deal && !(await tx.row("SELECT 1 FROM coupon WHERE id = ?", [deal.coupon]))) return gone
    await tx.write(
      "UPDATE webinar SET name = ?, document = ?, seats = ?, coupon_id = ?, revision = revision + 1 WHERE id = ?",
      [done.write.title, JSON.stringify(done.write), done.write.seats, done.write.deal?.coupon ?? null, id],
    )
    await writeReferences(
      tx,
      { webinar: id },
      refsOfWebinar(done.write).map((ref) => ({ from: { webinar: id }, ref })),
    )
    await writeDates(tx, id, done.write, now)
    return { revision: row.revision + 1, value: done.write }
  })
}

/** Removes one for which nobody has a seat. */
export async function removeWebinar(s: Context, id: number): Promise<Saved> {
  return s.db.transaction(async (tx): Promise<Saved> => {
    if (!(await tx.row("SELECT 1 FROM webinar WHERE id = ? FOR UPDATE", [id]))) return gone
    if (await tx.row("SELECT 1 FROM registration WHERE webinar_id = ? LIMIT 1", [id]))
      return { refused: refusals.webinar.registered }
    await tx.write("DELETE FROM webinar WHERE id = ?", [id])
    return ok
  })
}

/** What preflight asks of each. `meeting`: whether a meeting service is connected. */
export async function webinarFacts(db: Db, now: number, meeting: boolean): Promise<ReadonlyMap<number, WebinarFacts>> {
  const rows = await db.rows<
    Pick<Row<"webinar">, "id" | "document"> & {
      dates: number
      free: number
      next: Date | null
      coupon: Date | null
      plays: number
      replays: number
    }
  >(
    `SELECT w.id, w.document, COUNT(d.id) AS dates, COALESCE(SUM(w.seats IS NULL OR d.taken < w.seats), 0) AS free, MIN(d.starts_at) AS next,
       (SELECT k.until_at FROM coupon k WHERE k.id = w.coupon_id) AS coupon,
       EXISTS (SELECT 1 FROM media m WHERE m.id = JSON_VALUE(w.document, '$.recording')) AS plays,
       EXISTS (SELECT 1 FROM media m WHERE m.id = COALESCE(JSON_VALUE(w.document, '$.replay'), JSON_VALUE(w.document, '$.recording'))) AS replays
     FROM webinar w LEFT JOIN (
       SELECT x.id, x.webinar_id, x.starts_at, (SELECT COUNT(*) FROM registration r WHERE r.date_id = x.id AND (r.state = 'registered' OR (r.state = 'held' AND r.held_until > ?))) AS taken
       FROM webinar_date x WHERE x.called_off_at IS NULL AND x.starts_at > ?) d ON d.webinar_id = w.id GROUP BY w.id LIMIT ?`,
    [new Date(now), new Date(now), atMost],
  )
  const waits = await db.rows<{ webinar: number; id: number; name: string; flow: string }>(
    "SELECT DISTINCT r.webinar_id AS webinar, q.id, q.name, q.flow FROM reference r JOIN sequence q ON q.id = r.from_sequence_id WHERE r.webinar_id IS NOT NULL LIMIT 500",
  )
  return new Map(
    rows.map((r) => {
      const w = readDocument(r.document)
      const anyTime = w.when.kind === "any-time"
      const starts = r.next?.getTime() ?? null
      const end = (days: number | null | undefined) =>
        starts === null || days == null ? null : dayEnd(starts, days, w.zone)
      return [
        r.id,
        {
          title: w.title,
          host: w.host,
          offer: w.offer,
          live: w.recording === null,
          meeting,
          recording: Boolean(r.plays),
          replay: Boolean(r.replays),
          replayDays: w.replayDays,
          anyTime,
          toCome: anyTime ? 1 : r.dates,
          free: anyTime ? 1 : r.free,
          next: starts === null ? null : { starts, deal: end(w.deal?.days), replay: end(w.replayDays) },
          couponUntil: r.coupon?.getTime() ?? null,
          late: waits
            .filter((q) => q.webinar === r.id && mayBeLate(readJson(flowSchema, q.flow), r.id))
            .map((q) => ({ sequence: q.id, name: q.name })),
        },
      ]
    }),
  )
}
