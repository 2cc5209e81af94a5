// What the studio's room of notices reads beside the notices themselves.
import { type Notice, neverShown } from "@/core/course/notice"
import { kindsThat } from "@/core/funnel/step/list"
import type { Db } from "../db/pool"
import type { Surroundings } from "../surroundings"
import { listNotices, type NoticeListed } from "./notice"
import { addressOf, todayAtSchool } from "./show"

export type Named = { readonly id: number; readonly name: string }

export type NoticeChoices = {
  readonly steps: readonly (Named & { readonly live: boolean })[]
  readonly courses: readonly Named[]
  readonly offers: readonly Named[]
  readonly tags: readonly Named[]
}

/** What there is to choose from for a button and a segment. */
export async function noticeChoices(db: Db): Promise<NoticeChoices> {
  const steps = await db.rows<Named & { live: number }>(
    `SELECT s.id, CONCAT(s.name, ', ', f.name) AS name, EXISTS (SELECT 1 FROM live_page p WHERE p.step_id = s.id) AS live
     FROM step s JOIN funnel f ON f.id = s.funnel_id WHERE s.kind IN (?) ORDER BY f.name, s.position, s.id LIMIT 500`,
    [kindsThat((k) => k.entry)],
  )
  return {
    steps: steps.map((s) => ({ ...s, live: Boolean(s.live) })),
    courses: await db.rows<Named>("SELECT id, title AS name FROM course ORDER BY title LIMIT 500"),
    offers: await db.rows<Named>(
      "SELECT id, public_name AS name FROM offer WHERE removed_at IS NULL ORDER BY public_name LIMIT 500",
    ),
    tags: await db.rows<Named>("SELECT id, name FROM tag ORDER BY name LIMIT 500"),
  }
}

/** Why a live notice is shown to nobody, or null: its days, its conditions, or where its button leads. */
export type Hidden = ReturnType<typeof neverShown> | "leads-nowhere"

export async function whyHidden(db: Db, n: Notice, today: string): Promise<Hidden> {
  if (n.leads && (await addressOf(db, n.leads)) === null) return "leads-nowhere"
  return neverShown(n, today)
}

export async function noticesWithWhy(s: Surroundings): Promise<(NoticeListed & { readonly hidden: Hidden })[]> {
  const today = await todayAtSchool(s)
  const all = await listNotices(s.db)
  return Promise.all(all.map(async (n) => ({ ...n, hidden: await whyHidden(s.db, n, today) })))
}
