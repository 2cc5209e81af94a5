// Where an affiliate's link leads: to the page it names, to where that page stands now, or, where it was taken down, to the next
// best one.
import { programmeRuns } from "@/core/affiliate/programme"
import { kindsThat } from "@/core/funnel/step/list"
import type { Db } from "../db/pool"
import { checkoutPathOf } from "../offer/link"
import { listProgrammes, type ProgrammeSet } from "./programme"

const entries = kindsThat((k) => k.entry)

/** The live page of a step, by its path. */
export async function pathOfStep(db: Db, step: number): Promise<string | null> {
  const row = await db.row<{ path: string }>("SELECT path FROM live_page WHERE step_id = ?", [step])
  return row?.path ?? null
}

/** The live page where a funnel begins. */
async function entryOf(db: Db, funnel: number): Promise<string | null> {
  const row = await db.row<{ path: string }>(
    "SELECT p.path FROM live_page p JOIN step t ON t.id = p.step_id AND t.kind IN (?) WHERE p.funnel_id = ? ORDER BY t.position, t.id LIMIT 1",
    [entries, funnel],
  )
  return row?.path ?? null
}

/** Where a programme's links lead that name no page: the page it says, where the funnel that sells the offer begins, or its checkout. */
export async function targetOf(db: Db, p: Pick<ProgrammeSet, "offer" | "step">): Promise<string | null> {
  const own = p.step === null ? null : await pathOfStep(db, p.step)
  if (own) return own
  const checkout = await checkoutPathOf(db, p.offer)
  if (!checkout) return null
  const funnel = await db.row<{ id: number }>("SELECT funnel_id AS id FROM live_page WHERE path = ?", [checkout])
  return (funnel && (await entryOf(db, funnel.id))) ?? checkout
}

/** Where a page that stood at a path stands now; null where it never did, or was taken down. */
export async function movedTo(db: Db, path: string): Promise<string | null> {
  const row = await db.row<{ path: string }>(
    "SELECT p.path FROM page_before b JOIN live_page p ON p.step_id = b.step_id WHERE b.path = ?",
    [path.slice(0, 160)],
  )
  return row?.path ?? null
}

/** The next best page for one that was taken down: where its funnel begins, or where the affiliate's programme leads. */
export async function nextBest(db: Db, path: string, affiliate: number, now: number): Promise<string | null> {
  const before = await db.row<{ funnel_id: number }>("SELECT funnel_id FROM page_before WHERE path = ?", [
    path.slice(0, 160),
  ])
  return (before && (await entryOf(db, before.funnel_id))) ?? (await homeOf(db, affiliate, now))
}

/** Where an affiliate's links lead by themselves: to the first programme of theirs that runs and has a page. */
export async function homeOf(db: Db, affiliate: number, now: number): Promise<string | null> {
  const parts = await db.rows<{ offer_id: number }>(
    "SELECT offer_id FROM affiliate_part WHERE affiliate_id = ? ORDER BY agreed_at IS NULL, agreed_at, offer_id",
    [affiliate],
  )
  const programmes = new Map((await listProgrammes(db)).map((p) => [p.offer, p]))
  for (const { offer_id } of parts) {
    const p = programmes.get(offer_id)
    const target = p && programmeRuns(p, now) ? await targetOf(db, p) : null
    if (target) return target
  }
  return null
}

/** Where a short address leads: to the page of the link that was made with this name, or to the affiliate's own. */
export async function shortTarget(db: Db, affiliate: number, sub: string, now: number): Promise<string | null> {
  const made = await db.row<{ step_id: number | null; offer_id: number | null }>(
    "SELECT step_id, offer_id FROM affiliate_link WHERE affiliate_id = ? AND sub = ? ORDER BY id DESC LIMIT 1",
    [affiliate, sub],
  )
  const step = made?.step_id ? await pathOfStep(db, made.step_id) : null
  if (step) return step
  const checkout = made?.offer_id ? await checkoutPathOf(db, made.offer_id) : null
  return checkout ?? (await homeOf(db, affiliate, now))
}

/** Every live page, as it is chosen from: its funnel and its name. */
export function livePages(db: Db): Promise<{ readonly id: number; readonly name: string }[]> {
  return db.rows(
    "SELECT t.id, CONCAT(f.name, ': ', t.name) AS name FROM live_page p JOIN step t ON t.id = p.step_id JOIN funnel f ON f.id = t.funnel_id ORDER BY f.name, t.position LIMIT 500",
  )
}
