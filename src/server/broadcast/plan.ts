// Planning a broadcast: a row of mail for everybody who gets it, with its instant and its subject. And what is done about it while
// it goes: paused, stopped, the better subject chosen, sent once more.

import { type Broadcast, dueIn, variantAt } from "@/core/mail/broadcast"
import { bestOf } from "@/core/mail/subject-test"
import type { Sql } from "@/core/person/segment/kind"
import type { Segment } from "@/core/person/segment/segment"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { buttonTrouble } from "../mail/button"
import { deadLinksIn } from "../mail/click"
import { release } from "../mail/hold"
import { whereOf } from "../person/where"
import { gone, ok, type Saved } from "../saved"
import { schoolZone } from "../school-view"
import { setTimer, type TimerWork } from "../timer"
import { triedOf } from "./result"
import { madeAnew, readBroadcast } from "./store"

const hour = 3_600_000

/** Those who are in a question, less others, who agreed to be written to and still take letters to everybody; `p` is the person. */
export async function readersOf(db: Db, to: Segment, less: Segment | null, now: number): Promise<Sql> {
  const [a, b] = [await whereOf(db, to, now), less ? await whereOf(db, less, now) : null]
  return {
    sql: `FROM person p JOIN address a ON a.person_id = p.id AND a.email = p.email AND a.suppressed IS NULL
      WHERE p.united_with IS NULL AND ${a.sql}${b ? ` AND NOT ${b.sql}` : ""}
        AND (SELECT c.kind FROM consent c WHERE c.address_id = a.id ORDER BY c.at DESC, c.id DESC LIMIT 1) = 'given'
        AND NOT EXISTS (SELECT 1 FROM unwanted u WHERE u.person_id = p.id AND u.what = 'broadcasts')`,
    values: [...a.values, ...(b?.values ?? [])],
  }
}

export type Readers = {
  readonly total: number
  /** Those of the question who don't get it: they have left, can't be reached, never agreed, or do without. */
  readonly without: number
}

/** How many would get it, and how many of the question would not. */
export async function countReaders(s: Context, d: Pick<Broadcast, "to" | "less">): Promise<Readers> {
  const now = await s.clock.now()
  const readers = await readersOf(s.db, d.to, d.less, now)
  const [a, b] = [await whereOf(s.db, d.to, now), d.less ? await whereOf(s.db, d.less, now) : null]
  const all = await s.db.row<{ n: number }>(
    `SELECT COUNT(*) AS n FROM person p WHERE p.united_with IS NULL AND ${a.sql}${b ? ` AND NOT ${b.sql}` : ""}`,
    [...a.values, ...(b?.values ?? [])],
  )
  const get = await s.db.row<{ n: number }>(`SELECT COUNT(*) AS n ${readers.sql}`, [...readers.values])
  return { total: get?.n ?? 0, without: (all?.n ?? 0) - (get?.n ?? 0) }
}

/** Why it can't be planned, or null. */
async function unready(tx: Db, d: Broadcast): Promise<string | null> {
  if (d.subjects.some((x) => !x.trim())) return refusals.mail.notSubject
  if (!d.body.replace(/<[^>]*>/g, "").trim()) return refusals.mail.notText
  const button = await buttonTrouble(tx, d, "is wanted now")
  if (button) return button
  if ((await deadLinksIn(tx, d.body)) > 0) return refusals.mail.linkNowhere(d.subjects[0]!)
  const school = await tx.row<{ name: string; email: string }>(
    "SELECT sender_name AS name, sender_email AS email FROM school WHERE id = 1",
  )
  return school?.name && school.email ? null : refusals.mail.noSender
}

/** Plans it: from now on it can't be changed. */
export async function planBroadcast(s: Context, id: number): Promise<Saved> {
  const now = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const b = await readBroadcast(tx, id, "FOR UPDATE")
    if (!b) return gone
    if (b.state !== "draft") return { refused: refusals.mail.planned }
    const document = await madeAnew(tx, b)
    const wrong = await unready(tx, document)
    if (wrong) return { refused: wrong }
    const begins = await writeMails(tx, id, document, now)
    if (begins === null) return { refused: refusals.mail.noRecipients }
    await tx.update("broadcast", id, { state: "planned", planned_at: new Date(now), begins_at: new Date(begins) })
    if (b.document.subjects.length > 1)
      await setTimer(tx, { kind: "broadcast-choose", about: id, dueAt: begins + b.document.trial.hours * hour })
    if (b.document.againAfter)
      await setTimer(tx, { kind: "broadcast-again", about: id, dueAt: begins + b.document.againAfter * 24 * hour })
    return ok
  }, 120_000)
}

/** Writes the mails of a broadcast; gives the first instant, or null where nobody gets it. */
async function writeMails(tx: Db, id: number, d: Broadcast, now: number): Promise<number | null> {
  const readers = await readersOf(tx, d.to, d.less, now)
  // In an order that says nothing of who they are, and is the same however often it is asked.
  await tx.write("DROP TEMPORARY TABLE IF EXISTS broadcast_reader")
  await tx.write(
    "CREATE TEMPORARY TABLE broadcast_reader (place INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, person_id INT UNSIGNED NOT NULL, zone VARCHAR(64) NOT NULL, due_at DATETIME(3) NULL, KEY (zone))",
  )
  await tx.write(
    `INSERT INTO broadcast_reader (person_id, zone) SELECT p.id, p.zone ${readers.sql} ORDER BY MD5(CONCAT(?, ':', p.id))`,
    [...readers.values, id],
  )
  const total = (await tx.row<{ n: number }>("SELECT COUNT(*) AS n FROM broadcast_reader"))?.n ?? 0
  if (total === 0) return null
  const school = await schoolZone(tx)
  for (const { zone } of await tx.rows<{ zone: string }>("SELECT DISTINCT zone FROM broadcast_reader"))
    await tx.write("UPDATE broadcast_reader SET due_at = ? WHERE zone = ?", [
      new Date(dueIn(d.when, zone, school, now)),
      zone,
    ])
  const begins = (await tx.row<{ at: Date }>("SELECT MIN(due_at) AS at FROM broadcast_reader"))!.at.getTime()
  // Those who wait for the better subject come after the hours of its trial.
  const trying = d.subjects.length > 1 ? triedAt(total, d) : total
  const later = "DATE_ADD(r.due_at, INTERVAL IF(r.place > ?, ?, 0) SECOND)"
  const spread = d.perHour === null ? later : `DATE_ADD(${later}, INTERVAL FLOOR((r.place - 1) / ?) HOUR)`
  await tx.write(
    `INSERT INTO mail (once, kind, person_id, to_email, to_name, goes, broadcast_id, variant, due_at, try_at)
     SELECT CONCAT('broadcast:', ?, ':', p.id), 'broadcast', p.id, p.email, p.name, ?, ?, IF(r.place > ?, NULL, (r.place - 1) MOD ?), ${spread}, '1970-01-01'
     FROM broadcast_reader r JOIN person p ON p.id = r.person_id`,
    [
      id,
      d.goes,
      id,
      trying,
      d.subjects.length,
      trying,
      d.trial.hours * 3600 + 60,
      ...(d.perHour === null ? [] : [d.perHour]),
    ],
  )
  await tx.write("DROP TEMPORARY TABLE broadcast_reader")
  return begins
}

/** How many try the subjects: as many as `variantAt` gives one. */
function triedAt(of: number, d: Broadcast): number {
  let n = Math.max(d.subjects.length, Math.floor((of * d.trial.percent) / 100))
  while (n < of && variantAt(n, of, d.subjects.length, d.trial.percent) !== null) n++
  return Math.min(n, of)
}

/** After the trial the rest gets the subject that did best. */
export const chooseSubject: TimerWork = async (tx, id) => {
  const b = await readBroadcast(tx, id, "FOR UPDATE")
  if (!b || b.winner !== null) return
  await tx.update("broadcast", id, { winner: bestOf(await triedOf(tx, b)).best })
}

/** Once more, to those who did not open it and did not follow a link, with the same words. */
export const sendAgain: TimerWork = async (tx, id, at) => {
  const b = await readBroadcast(tx, id)
  if (!b || b.state === "stopped") return
  const readers = await readersOf(tx, { match: "all", parts: [] }, null, at)
  await tx.write(
    `INSERT IGNORE INTO mail (once, kind, person_id, to_email, to_name, goes, broadcast_id, variant, again, due_at, try_at)
     SELECT CONCAT('broadcast:', ?, ':', f.person_id, ':again'), 'broadcast', f.person_id, f.to_email, f.to_name, f.goes, f.broadcast_id, f.variant, 1, ?, '1970-01-01'
     FROM mail f WHERE f.broadcast_id = ? AND f.again = 0 AND f.state = 'sent' AND f.opened_at IS NULL AND f.clicked_at IS NULL
       AND f.person_id IN (SELECT p.id ${readers.sql})`,
    [id, new Date(at), id, ...readers.values],
  )
}

/** What is yet to go is held, goes on, or never goes. */
export async function turnBroadcast(s: Context, id: number, to: "pause" | "go-on" | "stop"): Promise<Saved> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const b = await readBroadcast(tx, id, "FOR UPDATE")
    if (!b) return gone
    if (
      to === "pause"
        ? b.state !== "planned"
        : to === "go-on"
          ? b.state !== "paused"
          : !["planned", "paused"].includes(b.state)
    )
      return gone
    const state = ({ pause: "paused", "go-on": "planned", stop: "stopped" } as const)[to]
    await tx.update("broadcast", id, { state })
    if (to === "go-on") await release(tx, "m.broadcast_id = ?", [id], at)
    if (to === "stop")
      await tx.write(
        "UPDATE mail SET state = 'cancelled', trouble = 'the broadcast was stopped' WHERE broadcast_id = ? AND state IN ('due', 'held')",
        [id],
      )
    return ok
  }, 120_000)
}

/** Those of which nothing is left to go are sent. */
export async function closeBroadcasts(s: Context): Promise<void> {
  await s.db.write(
    `UPDATE broadcast b SET state = 'sent' WHERE b.state = 'planned'
       AND NOT EXISTS (SELECT 1 FROM mail m WHERE m.broadcast_id = b.id AND m.state IN ('due', 'held', 'sending'))
       AND NOT EXISTS (SELECT 1 FROM timer t WHERE t.once IN (CONCAT('broadcast-choose:', b.id), CONCAT('broadcast-again:', b.id)))`,
  )
}
