// An offer's own link, and the offers that learners are shown.
import { kindsThat, offerOf } from "@/core/funnel/step/list"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Learner } from "../person/session"
import { releaseById } from "../releases"
import { ownedOffers } from "./owned"
import { shelfOf, stateOf } from "./quote"

/**
 * The path of the live checkout that sells each offer: that of a funnel which sells and does nothing else before one that is about a webinar,
 * unless it is that webinar's; the newest release's where several do.
 */
export async function checkoutPaths(db: Db, webinar = 0): Promise<Map<number, string>> {
  const pages = await db.rows<{ path: string; release_id: number; step_id: number }>(
    `SELECT p.path, p.release_id, p.step_id,
       (SELECT MAX(r.webinar_id = ?) FROM reference r JOIN step x ON x.id = r.step_id WHERE x.funnel_id = t.funnel_id AND r.webinar_id IS NOT NULL) AS its
     FROM live_page p JOIN step t ON t.id = p.step_id AND t.kind IN (?) ORDER BY CASE WHEN its = 1 THEN 2 WHEN its IS NULL THEN 1 ELSE 0 END, p.release_id LIMIT 500`,
    [webinar, kindsThat((k) => k.sells?.as === "first")],
  )
  const paths = new Map<number, string>()
  for (const p of pages) {
    const step = (await releaseById(db, p.release_id))?.funnel.steps.find((x) => x.id === p.step_id)
    const offer = step && offerOf(step)
    if (offer) paths.set(offer, p.path)
  }
  return paths
}

/**
 * The path of the live checkout that sells an offer, or undefined: where the offer's own link leads.
 *
 * @param webinar the one at which it was pressed: its own funnel's checkout comes first
 */
export async function checkoutPathOf(db: Db, offer: number, webinar?: number): Promise<string | undefined> {
  return (await checkoutPaths(db, webinar)).get(offer)
}

/** What else a learner could have: offers that are listed, open, sold at a live checkout, and not theirs already. */
export async function alsoToHave(s: Context, who: Learner): Promise<{ id: number; name: string; promise: string }[]> {
  const shelf = await shelfOf(s.db)
  const at = await s.clock.now()
  const owned = await ownedOffers(s.db, shelf, who.person, null, at)
  const sold = await checkoutPaths(s.db)
  return [...shelf.offers.values()]
    .filter((o) => !o.hidden && sold.has(o.id) && !owned.has(o.id) && stateOf(shelf, o.id, at) === "open")
    .map((o) => ({ id: o.id, name: o.publicName, promise: o.promise }))
}
