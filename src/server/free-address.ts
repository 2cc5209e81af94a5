// Addresses of courses and pages that are still free.
import { freeSlug, slugOf } from "@/core/funnel/slug"
import type { Db } from "./db/pool"

/** One after another: locking the rows that are there holds back none that comes in while they are read. */
const inTurn = (tx: Db) => tx.row("SELECT id FROM school WHERE id = 1 FOR UPDATE")

/** Parts of an address in the learning area that are no course's. */
export const ownRooms = [
  "account",
  "certificate",
  "file",
  "hand-in",
  "invitation",
  "notice",
  "orders",
  "plans",
  "sign-in",
]

/** An address for a course of this title, which nobody else takes before the transaction ends. */
export async function freeCourseSlug(tx: Db, title: string): Promise<string> {
  await inTurn(tx)
  const others = await tx.rows<{ slug: string }>("SELECT slug FROM course")
  return freeSlug(slugOf(title, "course"), new Set([...ownRooms, ...others.map((r) => r.slug)]))
}

/** Addresses that pages have or had, to which nobody else adds before the transaction ends. */
export async function takenPaths(tx: Db): Promise<string[]> {
  await inTurn(tx)
  return (await tx.rows<{ path: string }>("SELECT path FROM step UNION SELECT path FROM live_page")).map((t) => t.path)
}
