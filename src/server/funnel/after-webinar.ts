// Whoever has a seat at a webinar rests at its confirmation page until their date; and once it is known what came of it, they go on.
import { type Outcome, stepKinds, webinarOf } from "@/core/funnel/step/list"
import { grouped } from "@/core/group"
import type { Db } from "../db/pool"
import type { Happening } from "../happen"
import { releaseById } from "../releases"
import { type Listener, oneByOne } from "../tx-context"
import { latestRun } from "./journey"
import { leaveTogether } from "./leave"

export const goOnAfterWebinar: Listener = {
  to: ["attended", "left-early", "missed"],
  hear: goOn,
}

/** They are of one kind, about one webinar, and of one instant. */
async function goOn(tx: Db, happenings: readonly Happening[]): Promise<void> {
  const [h] = happenings
  const people = happenings.flatMap((x) => x.person ?? [])
  if (!h?.subject || !people.length) return
  const journeys = await tx.rows<{ person: number; visitor: Buffer; release: number; live: number }>(
    `SELECT j.person_id AS person, j.visitor, COALESCE(f.live_release_id, (SELECT MAX(r.id) FROM \`release\` r WHERE r.funnel_id = f.id)) AS \`release\`, f.live_release_id IS NOT NULL AS live
     FROM journey j FORCE INDEX (person_id) JOIN funnel f ON f.id = j.funnel_id WHERE j.person_id IN (?) AND j.run = ${latestRun("j")}`,
    [people],
  )
  for (const [id, some] of grouped(journeys, (j) => j.release)) {
    const release = await releaseById(tx, id)
    const step = release?.funnel.steps.find((x) => stepKinds[x.kind].awaits && webinarOf(x) === h.subject)
    if (!release || !step) continue
    // Whoever has gone further meanwhile stays there; what it sets off is set off for them, too.
    const outcome = h.kind as Outcome
    await leaveTogether(tx, { release, step: step.id, outcome, at: h.at, setsOff: Boolean(some[0]!.live) }, some)
  }
}

export const waitForWebinar: Listener = {
  to: ["registered", "registration-moved"],
  hear: oneByOne(async (tx, h) => {
    if (h.person && h.subject) await restUntilStart(tx, h.person, h.subject)
  }),
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
