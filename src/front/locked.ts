// Why somebody was led to this page: they asked for a lesson, or a course, that isn't open to them.
import { type Html, html } from "@/core/html"
import { words } from "@/core/words/en"
import { lockedName } from "@/server/course/locked"
import type { Request } from "./exchange"
import type { Rank } from "./queue"
import type { Front } from "./reply"

/** What was asked for, by the address that the gate gave; null where nothing was, or it isn't there. */
export async function lockedStrip(front: Front, req: Request, rank: Rank): Promise<Html | null> {
  const [lesson, course] = [req.query.get("lesson"), req.query.get("course")]
  const asked = lesson ?? course
  if (!asked || !/^\d{1,9}$/.test(asked)) return null
  // A page stands without the database, too: then nothing is said.
  const found = await front.looks
    .enter(req.ip, rank, () => lockedName(front.s.db, lesson === null ? "course" : "lesson", Number(asked)))
    .catch(() => undefined)
  if (!found) return null
  const ended = req.query.get("ended") !== null
  return html`<p class="section tinted">${words.locked(found, ended)}</p>`
}
