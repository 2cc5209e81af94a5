// Notices as the marketer writes them.
import * as v from "valibot"
import { type Notice, noticeFields, readLeads, readNoticeSegment, refsOfNotice } from "@/core/course/notice"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { writeReferences } from "../reference"
import { gone, type Made, ok, refusal, type Saved } from "../saved"
import { type Before, reconcile, type SavedShared, type Stored } from "../shared"

type NoticeRow = {
  readonly id: number
  readonly place: Notice["place"]
  readonly course_id: number | null
  readonly title: string
  readonly body: string
  readonly button: string
  readonly leads: string
  readonly segment: string
  readonly from_on: string | null
  readonly until_on: string | null
  readonly most: number | null
  readonly live: number
  readonly revision: number
  readonly seen: number
  readonly pressed: number
}

/** How many notices there may be. */
const atMost = 200

const fields = "n.*, DATE_FORMAT(n.from_on, '%Y-%m-%d') AS from_on, DATE_FORMAT(n.until_on, '%Y-%m-%d') AS until_on"

const noticeOf = (n: NoticeRow): Notice => ({
  place: n.place,
  course: n.course_id,
  title: n.title,
  body: n.body,
  button: n.button,
  leads: readLeads(n.leads),
  segment: readNoticeSegment(n.segment),
  from: n.from_on,
  until: n.until_on,
  most: n.most,
  live: Boolean(n.live),
})

export type NoticeListed = Notice & {
  readonly id: number
  readonly seen: number
  readonly pressed: number
  /** Different people who saw it, and of those who pressed; strangers aren't told apart. */
  readonly people: number
  readonly peoplePressed: number
}

/** All notices, the latest first. */
export async function listNotices(db: Db): Promise<NoticeListed[]> {
  const rows = await db.rows<NoticeRow & { people: number; people_pressed: number }>(
    `SELECT ${fields}, (SELECT COUNT(*) FROM notice_seen x WHERE x.notice_id = n.id) AS people,
       (SELECT COUNT(x.pressed_at) FROM notice_seen x WHERE x.notice_id = n.id) AS people_pressed FROM notice n ORDER BY n.id DESC LIMIT ?`,
    [atMost],
  )
  return rows.map((n) => ({
    ...noticeOf(n),
    id: n.id,
    seen: n.seen,
    pressed: n.pressed,
    people: n.people,
    peoplePressed: n.people_pressed,
  }))
}

/** Those that are shown, the latest first. */
export async function liveNotices(db: Db, place: Notice["place"]): Promise<(Notice & { readonly id: number })[]> {
  const rows = await db.rows<NoticeRow>(
    `SELECT ${fields} FROM notice n WHERE n.live = 1 AND n.place = ? ORDER BY n.id DESC LIMIT ?`,
    [place, atMost],
  )
  return rows.map((n) => ({ ...noticeOf(n), id: n.id }))
}

export async function readNotice(db: Db, id: number): Promise<Stored<Notice> | undefined> {
  const row = await db.row<NoticeRow>(`SELECT ${fields} FROM notice n WHERE id = ?`, [id])
  return row && { revision: row.revision, value: noticeOf(row) }
}

/** A new notice on the shelf, not shown yet. */
export async function newNotice(s: Context, typed: unknown): Promise<Made> {
  const read = v.safeParse(noticeFields.title, typed)
  if (!read.success) return refusal(read.issues)
  const at = new Date(await s.clock.now())
  const n = await s.db.row<{ n: number }>("SELECT COUNT(*) AS n FROM notice")
  if (Number(n?.n) >= atMost) return { refused: refusals.course.manyNotices }
  const made = await s.db.insert("notice", { place: "shelf", title: read.output, made_at: at })
  return { ok: true, id: made.id }
}

const input = v.partial(v.object(noticeFields))

/** Saves a notice; what isn't given stays as it is. */
export async function saveNotice(
  s: Context,
  id: number,
  typed: unknown,
  before?: Before,
): Promise<SavedShared<Notice>> {
  const read = v.safeParse(input, typed)
  if (!read.success) return refusal(read.issues)
  return s.db.transaction(async (tx): Promise<SavedShared<Notice>> => {
    const row = () => tx.row<NoticeRow>(`SELECT ${fields} FROM notice n WHERE id = ? FOR UPDATE`, [id])
    const stored = await row()
    if (!stored) return gone
    const was = { revision: stored.revision, value: noticeOf(stored) }
    const done = reconcile({ ...was.value, ...read.output }, was, before)
    if ("clash" in done) return done
    const n = done.write
    if (n.course !== null && !(await tx.row("SELECT 1 FROM course WHERE id = ?", [n.course])))
      return { refused: refusals.gone.course, field: "course" }
    await tx.write(
      "UPDATE notice SET place = ?, course_id = ?, title = ?, body = ?, button = ?, leads = ?, segment = ?, from_on = ?, until_on = ?, most = ?, live = ?, revision = revision + 1 WHERE id = ?",
      [
        n.place,
        n.course,
        n.title,
        n.body,
        n.button,
        JSON.stringify(n.leads),
        JSON.stringify(n.segment),
        n.from,
        n.until,
        n.most,
        n.live,
        id,
      ],
    )
    await writeReferences(
      tx,
      { notice: id },
      refsOfNotice(n).map((ref) => ({ from: { notice: id }, ref })),
    )
    const now = (await row())!
    return { revision: now.revision, value: noticeOf(now) }
  })
}

export async function removeNotice(s: Context, id: number): Promise<Saved> {
  const done = await s.db.write("DELETE FROM notice WHERE id = ?", [id])
  return done.affected ? ok : gone
}
