// An offer's own link, and the offers that learners are shown.
import type { Db } from "../db/pool"
import { releaseById } from "../funnel/release"
import { ownedOffers } from "../ledger/access"
import type { Learner } from "../person/session"
import type { Surroundings } from "../surroundings"
import { shelfOf, stateOf } from "./quote"

/** The path of the live checkout that sells an offer, or undefined: where the offer's own link leads. */
export async function checkoutPathOf(db: Db, offer: number): Promise<string | undefined> {
  const pages = await db.rows<{ path: string; release_id: number; step_id: number }>(
    "SELECT p.path, p.release_id, p.step_id FROM live_page p JOIN step t ON t.id = p.step_id AND t.kind = 'checkout' ORDER BY p.release_id DESC LIMIT 500",
  )
  for (const p of pages) {
    const release = await releaseById(db, p.release_id)
    if (release?.funnel.steps.some((x) => x.id === p.step_id && x.offerId === offer)) return p.path
  }
  return undefined
}

/** What else a learner could have: offers that are listed, open, sold at a live checkout, and not theirs already. */
export async function alsoToHave(
  s: Surroundings,
  who: Learner,
): Promise<{ id: number; name: string; promise: string }[]> {
  // A device that only ordered learns nothing of what else its address owns.
  if (who.scope !== null) return []
  const shelf = await shelfOf(s.db)
  const at = await s.clock.now()
  const owned = await ownedOffers(s.db, shelf, who.person, null, at)
  const found = []
  for (const o of shelf.offers.values())
    if (!o.hidden && !owned.has(o.id) && stateOf(shelf, o.id, at) === "open" && (await checkoutPathOf(s.db, o.id)))
      found.push({ id: o.id, name: o.publicName, promise: o.promise })
  return found
}
