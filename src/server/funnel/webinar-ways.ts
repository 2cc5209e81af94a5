// The pages of a webinar after its registration: where they stand, and how somebody goes on from them.
import { stepById, streamTo } from "@/core/funnel/draft"
import { kindsThat } from "@/core/funnel/step/list"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { releaseById } from "../releases"
import { latestRun } from "./journey"
import { leave } from "./leave"

type WebinarPage = { readonly path: string; readonly release: number; readonly step: number }

/** The live page on which a webinar is awaited, or played again; undefined: there is none. The newest release's where several are. */
export async function webinarPage(
  db: Db,
  webinar: number,
  which: "awaits" | "replays",
): Promise<WebinarPage | undefined> {
  return db.row<WebinarPage>(
    `SELECT p.path, p.release_id AS \`release\`, p.step_id AS step FROM live_page p JOIN step t ON t.id = p.step_id AND t.kind IN (?)
     WHERE EXISTS (SELECT 1 FROM reference r WHERE r.step_id = t.id AND r.webinar_id = ?) ORDER BY p.release_id DESC LIMIT 1`,
    [kindsThat((k) => k[which] === true), webinar],
  )
}

/** The address of the live page on which it is played again; null: there is none. */
export async function replayPath(db: Db, webinar: number): Promise<string | null> {
  const page = await webinarPage(db, webinar, "replays")
  return page ? `/${page.path}` : null
}

/** Where they come to; null where the outcome leads nowhere. Whoever doesn't rest here is led on and doesn't count. */
export async function goOnFrom(
  s: Context,
  at: { readonly release: number; readonly step: number },
  person: number,
  outcome: "clicked" | "too-late",
): Promise<string | null> {
  const release = await releaseById(s.db, at.release)
  const step = release && stepById(release.funnel, at.step)
  if (!release || !step) return null
  const now = await s.clock.now()
  const next = await s.db.transaction(async (tx) => {
    const journey = await tx.row<{ visitor: Buffer }>(
      `SELECT j.visitor FROM journey j WHERE j.funnel_id = ? AND j.person_id = ? AND j.rest_step_id = ? AND j.run = ${latestRun("j")} ORDER BY j.visitor LIMIT 1`,
      [release.funnel.id, person, step.id],
    )
    if (!journey) return streamTo(release.funnel, step.id, outcome) ?? null
    return leave(tx, { release, step: step.id, outcome, at: now, person, visitor: journey.visitor })
  })
  return next?.path ? `/${next.path}` : null
}
