// What a migration leaves to the code: documents that are there already are read, and what follows from them is written.

import { lessonPage } from "@/core/course/lesson-page"
import { type LessonRow, referCourse } from "./course/course"
import { referPage } from "./course/lesson-page"
import type { Db } from "./db/pool"
import { loadFunnel } from "./funnel/load"
import { storeReferences } from "./funnel/store"
import { inputOf, loadOffers, referOffer } from "./offer/offer"

/** After these migrations were applied. Doing it twice changes nothing. */
export async function upgrade(db: Db, applied: readonly string[]): Promise<void> {
  if (["009_seams.sql", "020_surveys.sql"].some((m) => applied.includes(m))) await db.transaction(referAll, 600_000)
}

/** Writes what every document refers to. */
export async function referAll(tx: Db): Promise<void> {
  for (const { id } of await tx.rows<{ id: number }>("SELECT id FROM funnel ORDER BY id")) {
    const funnel = await loadFunnel(tx, id)
    if (funnel) await storeReferences(tx, id, funnel)
  }
  for (const offer of (await loadOffers(tx)).values()) await referOffer(tx, offer.id, inputOf(offer))
  for (const c of await tx.rows<{ id: number; picture_id: number | null }>("SELECT id, picture_id FROM course"))
    await referCourse(tx, c.id, c.picture_id)
  for (const l of await tx.rows<LessonRow>("SELECT * FROM lesson")) await referPage(tx, l.id, lessonPage(l))
}
