// A funnel read from its tables into the one value that the core works on.

import type { Effect, Funnel, Step, Stream } from "@/core/funnel/draft"
import { refsOfFunnel } from "@/core/funnel/refs"
import { type Outcome, readSettings, type StepKind } from "@/core/funnel/step/list"
import { readPage } from "@/core/page/document"
import { refsOfLetter } from "@/core/sequence/document"
import { sequenceBegun } from "@/core/sequence/effect/list"
import { loadCourseCards } from "../course/card"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { type ActionRow, named } from "../sequence/effect/named"
import { sequencesForFunnel } from "../sequence/store"

/** The funnel as it is being worked on, with everything it refers to; undefined where there is none. */
export async function loadFunnel(db: Db, id: number): Promise<Funnel | undefined> {
  const funnel = await db.row<{ id: number; name: string; again_after: number | null }>(
    "SELECT id, name, again_after FROM funnel WHERE id = ?",
    [id],
  )
  if (!funnel) return undefined
  const steps = await db.rows<Pick<Row<"step">, "id" | "name" | "path" | "page" | "settings"> & { kind: StepKind }>(
    "SELECT id, kind, name, path, page, settings FROM step WHERE funnel_id = ? ORDER BY position, id",
    [id],
  )
  const streams = await db.rows<{ step_id: number; outcome: Outcome; to_step_id: number | null }>(
    "SELECT t.step_id, t.outcome, t.to_step_id FROM stream t JOIN step s ON s.id = t.step_id WHERE s.funnel_id = ? ORDER BY s.position, t.outcome",
    [id],
  )
  const effects = await db.rows<ActionRow & { step_id: number; outcome: Outcome }>(
    "SELECT e.id, e.step_id, e.outcome, e.kind, e.settings FROM effect e JOIN step s ON s.id = e.step_id WHERE s.funnel_id = ? ORDER BY e.id",
    [id],
  )
  const deeds = await named(db, effects)
  const draft: Funnel = {
    version: 2,
    id: funnel.id,
    name: funnel.name,
    againAfter: funnel.again_after,
    steps: steps.map(
      (s): Step => ({
        id: s.id,
        kind: s.kind,
        name: s.name,
        path: s.path,
        page: s.page === null ? null : readPage(JSON.parse(s.page)),
        settings: readSettings(s.kind, JSON.parse(s.settings)),
      }),
    ),
    streams: streams.map((s): Stream => ({ from: s.step_id, outcome: s.outcome, to: s.to_step_id })),
    effects: deeds.map((d): Effect => {
      const { step_id: step, outcome } = effects.find((e) => e.id === d.id)!
      return { id: d.id, step, outcome, kind: d.kind, settings: d.settings, name: d.name }
    }),
    sequences: await sequencesForFunnel(
      db,
      deeds.flatMap((d) => sequenceBegun(d) ?? []),
    ),
    courses: [],
  }
  return {
    ...draft,
    courses: await loadCourseCards(db, [
      ...refsOfFunnel(draft).map((r) => r.ref),
      ...draft.sequences.flatMap((q) => q.mails.flatMap(refsOfLetter)),
    ]),
  }
}
