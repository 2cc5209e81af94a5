// Everything in the school that sets something off, read for the core to follow.
import * as v from "valibot"
import { circleIn, type EffectOf, type OccasionKey, type Wires } from "@/core/funnel/chain"
import { type Occasion, occasions } from "@/core/funnel/occasion/list"
import { flowSchema } from "@/core/sequence/document"
import { type EffectKind, effectKinds, readDeed, refsOfDeed } from "@/core/sequence/effect/list"
import type { Flow } from "@/core/sequence/flow"
import { refusals } from "@/core/words/refusals"
import type { Db } from "../db/pool"
import { namesOf } from "../names"
import { versionById } from "../releases"

type Row = {
  readonly kind: EffectKind
  readonly settings: string
  readonly occasion: Occasion
  readonly of: number
}

/** What hangs on occasions, and what the sequences do: as they are live, or as they are worked on where they never were. */
export async function loadWires(db: Db): Promise<Wires> {
  const rows = await db.rows<Row>(
    "SELECT kind, settings, occasion, COALESCE(on_offer_id, on_tag_id, on_lesson_id, on_module_id, on_course_id, on_sequence_id, on_field_id, on_choice_id, on_coupon_id, on_webinar_id, 0) AS of FROM effect WHERE occasion IS NOT NULL ORDER BY id",
  )
  const on = new Map<OccasionKey, EffectOf[]>()
  for (const r of rows) {
    if (!(r.occasion in occasions)) continue
    const key: OccasionKey = `${r.occasion}:${r.of}`
    on.set(key, [...(on.get(key) ?? []), { kind: r.kind, settings: readDeed(r.kind, JSON.parse(r.settings)) }])
  }
  const sequences = await db.rows<{ id: number; flow: string; version: number | null }>(
    "SELECT id, flow, live_version_id AS version FROM sequence ORDER BY id LIMIT 500",
  )
  const flows = new Map<number, Flow>()
  for (const q of sequences) {
    const live = q.version === null ? undefined : await versionById(db, q.version)
    flows.set(q.id, live?.document.flow ?? v.parse(flowSchema, JSON.parse(q.flow)))
  }
  return { on, sequences: flows }
}

/** What a change of the wires does wrong, in words: a circle that would go round without end and wasn't there; null: nothing. */
export async function circleSays(db: Db, before: Wires, wires: Wires): Promise<string | null> {
  const circle = circleIn(before) ? null : circleIn(wires)
  if (!circle) return null
  const name = await namesOf(
    db,
    circle.flatMap((e) => refsOfDeed(e).slice(0, 1)),
  )
  return refusals.funnel.circle(
    circle.map((e) => {
      const ref = refsOfDeed(e)[0]
      return effectKinds[e.kind].says((ref && name(ref.to, ref.id)) ?? "")
    }),
  )
}
