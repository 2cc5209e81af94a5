// Whoever has a seat at a webinar rests at its confirmation page until their date; and once it is known what came of it, they go on.
import { stepById } from "@/core/funnel/draft"
import { type Outcome, outcomesOf, webinarOf } from "@/core/funnel/step/list"
import type { Listener } from "../around"
import type { Db } from "../db/pool"
import type { Happening } from "../happen"
import { releaseById } from "../releases"
import { latestRun } from "./journey"
import { leave } from "./leave"

export const goOnAfterWebinar: Listener = { to: ["attended", "left-early", "missed"], hear: goOn }

async function goOn(tx: Db, h: Happening): Promise<void> {
  if (!h.person || !h.subject) return
  const journeys = await tx.rows<{ visitor: Buffer; rest: number; release: number; live: number }>(
    `SELECT j.visitor, j.rest_step_id AS rest, COALESCE(f.live_release_id, (SELECT MAX(r.id) FROM \`release\` r WHERE r.funnel_id = f.id)) AS \`release\`, f.live_release_id IS NOT NULL AS live
     FROM journey j JOIN funnel f ON f.id = j.funnel_id WHERE j.person_id = ? AND j.run = ${latestRun("j")}
       AND EXISTS (SELECT 1 FROM reference r WHERE r.webinar_id = ? AND r.step_id = j.rest_step_id) LIMIT 20`,
    [h.person, h.subject],
  )
  for (const j of journeys) {
    const release = await releaseById(tx, j.release)
    const step = release && stepById(release.funnel, j.rest)
    const outcome = h.kind as Outcome
    if (!release || !step || webinarOf(step) !== h.subject || !outcomesOf(step.kind).includes(outcome)) continue
    await leave(tx, {
      release,
      step: j.rest,
      outcome,
      at: h.at,
      person: h.person,
      visitor: j.visitor,
      setsOff: Boolean(j.live),
    })
  }
}

export const waitForWebinar: Listener = {
  to: ["registered", "registration-moved"],
  hear: async (tx, h) => {
    if (h.person && h.subject) await restUntilStart(tx, h.person, h.subject)
  },
}

/** Nobody who waits for their date has left before it. */
export async function restUntilStart(tx: Db, person: number, webinar: number): Promise<void> {
  await tx.write(
    `UPDATE journey j JOIN registration r ON r.person_id = j.person_id AND r.webinar_id = ? AND r.state = 'registered' JOIN webinar_date d ON d.id = r.date_id
     SET j.rest_at = GREATEST(j.rest_at, d.starts_at)
     WHERE j.person_id = ? AND EXISTS (SELECT 1 FROM reference x WHERE x.webinar_id = r.webinar_id AND x.step_id = j.rest_step_id)`,
    [webinar, person],
  )
}
