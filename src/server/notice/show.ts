// Notices as they are shown: which one somebody meets in a place, that it came in view, and where its button leads.

import { isShown, type Notice, type Place, readLeads } from "@/core/course/notice"
import { connectionOf } from "@/core/person/connection"
import { isStrangerIn } from "@/core/person/segment/segment"
import { mayTry } from "../attempt"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { checkoutPathOf } from "../offer/link"
import { isPersonIn } from "../person/segment"
import type { Learner } from "../person/session"
import { schoolRow } from "../school-view"
import { liveNotices } from "./notice"

export type Shown = { readonly id: number; readonly title: string; readonly body: string; readonly button: string }

/**
 * The latest notice that is for them in this place, or null. One whose button leads to what isn't live is left out: nobody is
 * sent to a closed door. A device that is known by an order only is a stranger here.
 */
export async function noticeFor(
  s: Context,
  who: Learner | null,
  place: Place,
  course: number | null = null,
): Promise<Shown | null> {
  const all = await liveNotices(s.db, place)
  if (!all.length) return null
  const person = who?.person ?? null
  const seen = person === null ? new Map<number, number>() : await seenBy(s.db, person)
  const today = await todayAtSchool(s)
  const now = await s.clock.now()
  for (const n of all) {
    const asking = { place, course, today, seen: seen.get(n.id) ?? 0, meant: true }
    if (!isShown(n, asking)) continue
    if (!(person === null ? isStrangerIn(n.segment) : await isPersonIn(s.db, n.segment, person, now))) continue
    if (n.leads && (await noticeAddress(s.db, n.leads)) === null) continue
    return { id: n.id, title: n.title, body: n.body, button: n.leads ? n.button : "" }
  }
  return null
}

async function seenBy(db: Db, person: number): Promise<Map<number, number>> {
  const rows = await db.rows<{ notice_id: number; times: number }>(
    "SELECT notice_id, times FROM notice_seen WHERE person_id = ?",
    [person],
  )
  return new Map(rows.map((r) => [r.notice_id, r.times]))
}

/** Today on the school's calendar, "2027-01-31". */
export async function todayAtSchool(s: Context): Promise<string> {
  const school = await schoolRow(s.db)
  return new Intl.DateTimeFormat("en-CA", { timeZone: school?.zone ?? "UTC" }).format(await s.clock.now())
}

/** Where a button leads, as an address of ours; null where that isn't live. */
export async function noticeAddress(db: Db, leads: NonNullable<Notice["leads"]>): Promise<string | null> {
  switch (leads.to) {
    case "step": {
      const page = await db.row<{ path: string }>("SELECT path FROM live_page WHERE step_id = ? LIMIT 1", [leads.id])
      return page ? `/${page.path}` : null
    }
    case "course": {
      const course = await db.row<{ slug: string }>("SELECT slug FROM course WHERE id = ? AND state <> 'draft'", [
        leads.id,
      ])
      return course ? `/learn/${course.slug}` : null
    }
    case "offer":
      return (await checkoutPathOf(db, leads.id)) === undefined ? null : `/get/${leads.id}`
  }
}

const mayCount = (s: Context, ip: string) =>
  mayTry(s.db, `notice:${connectionOf(ip)}`, { most: 600, windowMs: 3_600_000 })

/** It came in view; a connection counts six hundred an hour at most. */
export async function markSeen(s: Context, who: Learner | null, notice: number, ip: string): Promise<void> {
  if (!(await mayCount(s, ip))) return
  const counted = await s.db.write("UPDATE notice SET seen = seen + 1 WHERE id = ? AND live = 1", [notice])
  if (counted.affected && who)
    await s.db.insert(
      "notice_seen",
      { notice_id: notice, person_id: who.person, times: 1 },
      "ON DUPLICATE KEY UPDATE times = times + 1",
    )
}

/** Its button was pressed: where it leads, or null where that isn't live any more. Counted within the same limit. */
export async function pressNotice(s: Context, who: Learner | null, notice: number, ip: string): Promise<string | null> {
  const found = (
    await s.db.rows<{ leads: string }>("SELECT leads FROM notice WHERE id = ? AND live = 1", [notice])
  ).map((r) => readLeads(r.leads))[0]
  const goTo = found ? await noticeAddress(s.db, found) : null
  if (goTo === null) return null
  if (!(await mayCount(s, ip))) return goTo
  await s.db.write("UPDATE notice SET pressed = pressed + 1 WHERE id = ?", [notice])
  if (who)
    await s.db.insert(
      "notice_seen",
      { notice_id: notice, person_id: who.person, times: 1, pressed_at: new Date(await s.clock.now()) },
      "ON DUPLICATE KEY UPDATE pressed_at = COALESCE(pressed_at, VALUES(pressed_at))",
    )
  return goTo
}
