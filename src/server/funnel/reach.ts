// A first lesson opened brings the journeys that led to its course to their end: the learning area.

import { stepById } from "@/core/funnel/draft"
import { kindsThat } from "@/core/funnel/step/list"
import type { Db } from "../db/pool"
import type { Happening } from "../happen"
import { releaseById } from "../releases"
import { type Listener, oneByOne } from "../tx-context"
import { latestRun } from "./journey"
import { leave } from "./leave"

export const reachLearningArea: Listener = { to: ["lesson-opened"], hear: oneByOne(reach) }

/** Of a device that is only let into what it has just taken (`data.orders`), the journey it took it on. */
async function reach(tx: Db, h: Happening): Promise<void> {
  const person = h.person
  if (!person) return
  const scope = h.data?.orders ?? null
  const journeys = await tx.rows<{
    visitor: Buffer
    step: number
    rest: number
    release: number
    live: number
    story: number | null
  }>(
    `SELECT j.visitor, t.id AS step, j.rest_step_id AS rest, COALESCE(f.live_release_id, (SELECT MAX(r.id) FROM \`release\` r WHERE r.funnel_id = f.id)) AS \`release\`, f.live_release_id IS NOT NULL AS live,
       (SELECT MAX(o.id) FROM orders o WHERE o.funnel_id = j.funnel_id AND o.visitor = j.visitor AND o.person_id = j.person_id AND o.first_id IS NULL AND o.state = 'paid' AND (? IS NULL OR FIND_IN_SET(o.id, ?))) AS story
     FROM journey j JOIN funnel f ON f.id = j.funnel_id JOIN lesson l ON l.id = ?
     JOIN reference r ON r.course_id = l.course_id AND r.funnel_id = j.funnel_id JOIN step t ON t.id = r.step_id AND r.block IS NULL AND t.kind IN (?)
     WHERE j.person_id = ? AND j.rest_step_id <> t.id AND j.run = ${latestRun("j")} LIMIT 20`,
    [scope, scope, h.subject, kindsThat((k) => k.opens !== undefined), person],
  )
  const mine = journeys.filter((j) => scope === null || j.story !== null)
  if (!mine.length) return
  const clicked = await tx.row("SELECT 1 FROM fact WHERE person_id = ? AND kind = 'clicked' AND at >= ? LIMIT 1", [
    person,
    new Date(h.at - 3_600_000),
  ])
  for (const j of mine) {
    const release = await releaseById(tx, j.release)
    if (!release) continue
    await leave(tx, {
      release,
      step: j.rest,
      outcome: "started",
      at: h.at,
      person,
      visitor: j.visitor,
      via: clicked ? "mail" : "page",
      ...(j.story === null ? {} : { order: { id: j.story, story: j.story } }),
      next: async () => stepById(release.funnel, j.step) ?? null,
      setsOff: Boolean(j.live),
    })
  }
}
