// What the studio's room of notices reads beside the notices themselves.
import { type Notice, neverShown } from "@/core/course/notice"
import { kindsThat } from "@/core/funnel/step/list"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { type NamedThing, type SegmentChoices, segmentChoices } from "../person/segment-view"
import { listNotices, type NoticeListed } from "./notice"
import { noticeAddress, todayAtSchool } from "./show"

export type NoticeChoices = SegmentChoices & {
  readonly steps: readonly (NamedThing & { readonly live: boolean })[]
}

/** What there is to choose from for a button and a segment. */
export async function noticeChoices(db: Db): Promise<NoticeChoices> {
  const steps = await db.rows<NamedThing & { live: number }>(
    `SELECT s.id, CONCAT(s.name, ', ', f.name) AS name, EXISTS (SELECT 1 FROM live_page p WHERE p.step_id = s.id) AS live
     FROM step s JOIN funnel f ON f.id = s.funnel_id WHERE s.kind IN (?) ORDER BY f.name, s.position, s.id LIMIT 500`,
    [kindsThat((k) => k.entry)],
  )
  return { ...(await segmentChoices(db)), steps: steps.map((s) => ({ ...s, live: Boolean(s.live) })) }
}

/** Why a live notice is shown to nobody, or null: its days, its conditions, or where its button leads. */
export type Hidden = ReturnType<typeof neverShown> | "leads-nowhere"

export async function whyHidden(db: Db, n: Notice, today: string): Promise<Hidden> {
  if (n.leads && (await noticeAddress(db, n.leads)) === null) return "leads-nowhere"
  return neverShown(n, today)
}

export async function noticesWithWhy(s: Context): Promise<(NoticeListed & { readonly hidden: Hidden })[]> {
  const today = await todayAtSchool(s)
  const all = await listNotices(s.db)
  return Promise.all(all.map(async (n) => ({ ...n, hidden: await whyHidden(s.db, n, today) })))
}
