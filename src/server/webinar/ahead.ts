// The next date of a webinar, as Today tells it, and what will go wrong on one of the next seven days.
import * as v from "valibot"
import { type StepKind, stepKinds } from "@/core/funnel/step/list"
import { availability, type Offer } from "@/core/offer/offer"
import { replayOf, type Webinar, webinarSchema } from "@/core/webinar/webinar"
import { words } from "@/core/words/en"
import { longMoment } from "@/core/words/moment"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { loadOffers, piecesGone } from "../offer/offer"
import { registeredSoFar } from "./came"

export type NextDate = {
  readonly webinar: number
  readonly date: number
  readonly title: string
  readonly at: number
  readonly registered: number
  /** How many it were as long before each of the last ones, the latest first. */
  readonly before: readonly number[]
}

/** The one that begins next; null: none is to come. */
export async function nextDate(s: Context): Promise<NextDate | null> {
  const now = await s.clock.now()
  const row = await s.db.row<{ id: number; webinar: number; title: string; starts: Date }>(
    "SELECT d.id, w.id AS webinar, w.name AS title, d.starts_at AS starts FROM webinar_date d JOIN webinar w ON w.id = d.webinar_id WHERE d.starts_at > ? AND d.called_off_at IS NULL ORDER BY d.starts_at, d.id LIMIT 1",
    [new Date(now)],
  )
  if (!row) return null
  const { now: registered, before } = await registeredSoFar(s.db, row, now)
  return { webinar: row.webinar, date: row.id, title: row.title, at: row.starts.getTime(), registered, before }
}

type Trouble = { readonly words: string; readonly says: string; readonly href: string }

/** How far ahead it looks, and how far back for questions, ms. */
const ahead = 7 * 86_400_000
const back = 14 * 86_400_000

/** What will go wrong on a date to come, and questions that nobody has answered; in words, with where it is mended. */
export async function webinarTroubles(s: Context): Promise<Trouble[]> {
  const now = await s.clock.now()
  const dates = await s.db.rows<{ id: number; webinar: number; document: string; starts: Date; taken: number }>(
    `SELECT d.id, w.id AS webinar, w.document, d.starts_at AS starts, (SELECT COUNT(*) FROM registration r WHERE r.date_id = d.id AND r.state = 'registered') AS taken
     FROM webinar_date d JOIN webinar w ON w.id = d.webinar_id WHERE d.starts_at > ? AND d.starts_at < ? AND d.called_off_at IS NULL ORDER BY d.starts_at LIMIT 20`,
    [new Date(now), new Date(now + ahead)],
  )
  const found: Trouble[] = []
  // One webinar is told of once: what is wrong with it is wrong on each of its dates.
  const told = new Set<number>()
  const shelf = { offers: await loadOffers(s.db), gone: await piecesGone(s.db) }
  for (const d of dates) {
    if (told.has(d.webinar)) continue
    told.add(d.webinar)
    const w = v.parse(webinarSchema, JSON.parse(d.document))
    const when = longMoment(d.starts.getTime(), w.zone)
    const href = `/studio/calendar/webinars/${d.webinar}`
    for (const why of await whatIsWrong(s, shelf, d.webinar, w, d.starts.getTime(), d.taken))
      found.push({ words: words.ahead[why](w.title, when), says: words.ahead.open, href })
  }
  return [...found, ...(await unanswered(s.db, now))]
}

type Why = Exclude<keyof typeof words.ahead, "open" | "unanswered" | "read">

async function whatIsWrong(
  s: Context,
  shelf: { readonly offers: ReadonlyMap<number, Offer>; readonly gone: ReadonlyMap<number, number> },
  id: number,
  w: Webinar,
  starts: number,
  taken: number,
): Promise<Why[]> {
  const wrong: Why[] = []
  if (w.recording === null && !s.meeting) wrong.push("noMeeting")
  const offer = w.offer === null ? undefined : shelf.offers.get(w.offer)
  if (w.offer !== null) {
    const gone = shelf.gone.get(w.offer) ?? 0
    if (!offer || availability(offer, gone, starts + w.offerMinute * 60_000) !== "open") wrong.push("offerGone")
  }
  if (w.deal) {
    const until = await s.db.row<{ at: Date | null }>("SELECT until_at AS at FROM coupon WHERE id = ?", [w.deal.coupon])
    if (until?.at && until.at.getTime() < starts + w.deal.days * 86_400_000) wrong.push("couponEnds")
  }
  const pages = await s.db.rows<{ kind: StepKind }>(
    "SELECT DISTINCT t.kind FROM live_page p JOIN step t ON t.id = p.step_id JOIN reference r ON r.step_id = t.id AND r.webinar_id = ?",
    [id],
  )
  if (!taken && !pages.some((p) => stepKinds[p.kind].takesSeat)) wrong.push("noPage")
  if (w.replayDays !== null && replayOf(w) !== null && !pages.some((p) => stepKinds[p.kind].replays))
    wrong.push("noReplayPage")
  const asleep = await s.db.row(
    `SELECT 1 FROM sequence q JOIN reference r ON r.from_sequence_id = q.id AND r.webinar_id = ? AND r.say = 'waits for it' WHERE q.state <> 'live' LIMIT 1`,
    [id],
  )
  if (asleep && taken) wrong.push("noReminders")
  return wrong
}

/** Questions that were asked in a room that is over, and that nobody has answered; at most three dates. */
async function unanswered(db: Db, now: number): Promise<Trouble[]> {
  const rows = await db.rows<{ date: number; webinar: number; title: string; n: number }>(
    `SELECT d.id AS date, w.id AS webinar, w.name AS title, COUNT(*) AS n FROM webinar_date d JOIN webinar w ON w.id = d.webinar_id
     JOIN room_message m ON m.date_id = d.id AND m.kind = 'question' AND m.answered_at IS NULL AND m.hidden_at IS NULL
     WHERE d.settled_at IS NOT NULL AND d.starts_at > ? GROUP BY d.id ORDER BY d.starts_at DESC LIMIT 3`,
    [new Date(now - back)],
  )
  return rows.map((r) => ({
    words: words.ahead.unanswered(r.n, r.title),
    says: words.ahead.read,
    href: `/studio/calendar/webinars/${r.webinar}/dates/${r.date}`,
  }))
}
