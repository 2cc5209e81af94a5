// What somebody has of what is on offer.
import { runsSql } from "@/core/course/may-open"
import { opensOf } from "@/core/offer/gift/list"
import { giftsOf } from "@/core/offer/offer"
import type { Db } from "../db/pool"
import type { Shelf } from "./quote"

/** Offers of which somebody has everything that can be opened, by all they have or by one story alone. */
export async function ownedOffers(
  db: Db,
  shelf: Shelf,
  person: number,
  story: number | null,
  at: number,
): Promise<Set<number>> {
  const now = new Date(at)
  const open = await db.rows<{ course_id: number | null; media_id: number | null }>(
    `SELECT course_id, media_id FROM admission WHERE person_id = ? AND lesson_id IS NULL AND (? IS NULL OR order_id = ?) AND ${runsSql()}`,
    [person, story, story, now, now],
  )
  const courses = new Set(open.map((o) => o.course_id))
  const files = new Set(open.map((o) => o.media_id))
  const posted = await db.rows<{ offer_id: number }>(
    "SELECT DISTINCT l.offer_id FROM order_line l JOIN orders o ON o.id = l.order_id WHERE o.person_id = ? AND o.state = 'paid' AND (? IS NULL OR COALESCE(o.first_id, o.id) = ?)",
    [person, story, story],
  )
  const owned = new Set(posted.map((p) => p.offer_id))
  for (const offer of shelf.offers.values()) {
    const gifts = giftsOf(offer, shelf.offers)
    const opened = gifts.flatMap((g) => opensOf(g) ?? [])
    const all = opened.every((o) => ("course" in o ? courses.has(o.course) : files.has(o.media)))
    // What only comes by post is owned by having been bought.
    if (opened.length && opened.length === gifts.length && all) owned.add(offer.id)
    else if (opened.length && !all) owned.delete(offer.id)
  }
  return owned
}
