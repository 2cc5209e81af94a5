// Moving something in the calendar: what it would change is said first, then it is done, by the same use cases as elsewhere.
import * as v from "valibot"
import { placeOf } from "@/core/calendar/days"
import { type Move, moveSchema } from "@/core/calendar/entry"
import { broadcastSchema } from "@/core/mail/broadcast"
import { instantAt } from "@/core/webinar/rule"
import { words } from "@/core/words/en"
import { saveBroadcast } from "../broadcast/store"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { moveCoupon } from "../offer/coupon"
import { moveOffer } from "../offer/offer"
import { gone, type Saved } from "../saved"
import { schoolZone } from "../school-view"
import { moveDate } from "../webinar/dates"

/** In a sentence or two, or null where there is nothing to be moved. */
export async function whatMoves(s: Context, typed: unknown): Promise<string | null> {
  const read = v.safeParse(v.pick(moveSchema, ["kind", "id"]), typed)
  if (!read.success) return null
  return says[read.output.kind](s.db, read.output.id)
}

const w = words.calendar
const waiting = async (db: Db, offer: number) =>
  (
    await db.row<{ n: number }>(
      "SELECT COUNT(DISTINCT from_sequence_id) AS n FROM reference WHERE offer_id = ? AND from_sequence_id IS NOT NULL AND say = 'waits for it'",
      [offer],
    )
  )?.n ?? 0

const offerSays = (end: boolean) => async (db: Db, id: number) => {
  const row = await db.row<{ name: string }>("SELECT public_name AS name FROM offer WHERE id = ?", [id])
  if (!row) return null
  return end ? w.offerEnd(row.name, await waiting(db, id)) : w.offerBegin(row.name)
}
const couponSays = async (db: Db, id: number) => {
  const row = await db.row<{ code: string }>("SELECT code FROM coupon WHERE id = ?", [id])
  return row ? w.coupon(row.code) : null
}

const says: Record<Move["kind"], (db: Db, id: number) => Promise<string | null>> = {
  webinar: async (db, id) => {
    const row = await db.row<{ n: number }>(
      "SELECT (SELECT COUNT(*) FROM registration r WHERE r.date_id = d.id AND r.state = 'registered') AS n FROM webinar_date d WHERE d.id = ?",
      [id],
    )
    return row ? w.webinar(row.n) : null
  },
  broadcast: async (db, id) =>
    (await db.row("SELECT 1 FROM broadcast WHERE id = ? AND state = 'draft'", [id])) ? w.broadcast : null,
  "offer-from": offerSays(false),
  "offer-until": offerSays(true),
  "coupon-from": couponSays,
  "coupon-until": couponSays,
}

/** Moves it to a day and a time of the school's zone; a webinar's is that of its own. */
export async function moveEntry(s: Context, typed: unknown): Promise<Saved> {
  const read = v.safeParse(moveSchema, typed)
  if (!read.success) return gone
  const m = read.output
  const zone = await schoolZone(s.db)
  const at = instantAt(m.day, m.minute, zone)
  switch (m.kind) {
    case "webinar": {
      const own = await s.db.row<{ zone: string }>(
        "SELECT JSON_VALUE(w.document, '$.zone') AS zone FROM webinar_date d JOIN webinar w ON w.id = d.webinar_id WHERE d.id = ?",
        [m.id],
      )
      const { day, minute } = placeOf(at, own?.zone ?? zone)
      return moveDate(s, m.id, { date: day, at: minute })
    }
    case "broadcast":
      return moveBroadcast(s, m)
    case "offer-from":
    case "offer-until":
      return moveOffer(s, m.id, m.kind === "offer-from" ? "from" : "until", at)
    case "coupon-from":
    case "coupon-until":
      return moveCoupon(s, m.id, m.kind === "coupon-from" ? "from" : "until", at)
  }
}

async function moveBroadcast(s: Context, m: Move): Promise<Saved> {
  const row = await s.db.row<{ document: string }>("SELECT document FROM broadcast WHERE id = ? AND state = 'draft'", [
    m.id,
  ])
  if (!row) return gone
  const document = v.parse(broadcastSchema, JSON.parse(row.document))
  const where = document.when?.where ?? "school"
  const done = await saveBroadcast(s, m.id, { document: { ...document, when: { date: m.day, at: m.minute, where } } })
  return "value" in done ? { ok: true } : "refused" in done ? done : gone
}
