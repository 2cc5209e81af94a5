// What a migration leaves to the code: documents that are there already are read, and what follows from them is written.

import { fromSchool } from "@/core/mail/from"
import { lessonPage } from "@/core/page/lesson"
import { type SequenceDocument, stepsOfMails } from "@/core/sequence/document"
import { type LessonRow, referCourse } from "./course/course"
import { referPage } from "./course/lesson-page"
import type { Db } from "./db/pool"
import { loadFunnel } from "./funnel/load"
import { storeReferences } from "./funnel/store"
import { loadOffers, referOffer, typedOffer } from "./offer/offer"
import { releaseById } from "./releases"
import { referSequence } from "./sequence/store"

/** After these migrations were applied. Doing it twice changes nothing. */
export async function upgrade(db: Db, applied: readonly string[]): Promise<void> {
  if (applied.includes("027_sequences.sql")) await db.transaction(versionsFromReleases, 600_000)
  if (["009_seams.sql", "020_surveys.sql", "027_sequences.sql"].some((m) => applied.includes(m)))
    await db.transaction(referAll, 600_000)
}

/** Writes what every document refers to. */
export async function referAll(tx: Db): Promise<void> {
  for (const { id } of await tx.rows<{ id: number }>("SELECT id FROM funnel ORDER BY id")) {
    const funnel = await loadFunnel(tx, id)
    if (funnel) await storeReferences(tx, id, funnel)
  }
  for (const { id } of await tx.rows<{ id: number }>("SELECT id FROM sequence ORDER BY id")) await referSequence(tx, id)
  for (const offer of (await loadOffers(tx)).values()) await referOffer(tx, offer.id, typedOffer(offer))
  for (const c of await tx.rows<{ id: number; picture_id: number | null }>("SELECT id, picture_id FROM course"))
    await referCourse(tx, c.id, c.picture_id)
  for (const l of await tx.rows<LessonRow>("SELECT * FROM lesson")) await referPage(tx, l.id, lessonPage(l))
}

/** Sequences used to be published with their funnel: what was live of them becomes their first version. */
async function versionsFromReleases(tx: Db): Promise<void> {
  const releases = await tx.rows<{ id: number; at: Date }>(
    "SELECT r.id, r.at FROM `release` r LEFT JOIN funnel f ON f.live_release_id = r.id ORDER BY f.id IS NULL, r.id DESC",
  )
  for (const { id, at } of releases) {
    const release = await releaseById(tx, id)
    for (const q of release?.funnel.sequences ?? []) {
      const there = await tx.row("SELECT id FROM sequence WHERE id = ? AND live_version_id IS NULL FOR UPDATE", [q.id])
      if (!there || q.state === "draft") continue
      const document: SequenceDocument = {
        version: 1,
        name: q.name,
        leaveLine: q.leaveLine,
        from: fromSchool,
        flow: { goal: null, steps: stepsOfMails(q.mails) },
        mails: q.mails.map(({ afterDays: _, atMinute: __, ...m }) => m),
        courses: release!.funnel.courses,
      }
      const made = await tx.insert("sequence_version", {
        sequence_id: q.id,
        number: 1,
        at,
        snapshot: JSON.stringify(document),
      })
      await tx.write("UPDATE sequence SET live_version_id = ? WHERE id = ?", [made.id, q.id])
    }
  }
}
