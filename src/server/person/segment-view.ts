// What there is to choose from when a question about people is built.
import type { Field } from "@/core/person/field"
import type { Db } from "../db/pool"
import { listFields } from "./field"

export type Named = { readonly id: number; readonly name: string }

export type SegmentChoices = {
  readonly tags: readonly Named[]
  readonly courses: readonly Named[]
  readonly lessons: readonly Named[]
  readonly offers: readonly Named[]
  readonly sequences: readonly Named[]
  readonly sources: readonly string[]
  readonly zones: readonly string[]
  readonly fields: readonly Field[]
}

/** By name; at most 500 of each. */
export async function segmentChoices(db: Db): Promise<SegmentChoices> {
  const sources = await db.rows<{ source: string }>(
    "SELECT DISTINCT source FROM (SELECT source FROM person WHERE source <> '' ORDER BY id DESC LIMIT 20000) x ORDER BY source LIMIT 100",
  )
  const zones = await db.rows<{ zone: string }>(
    "SELECT DISTINCT zone FROM (SELECT zone FROM person ORDER BY id DESC LIMIT 20000) x ORDER BY zone LIMIT 500",
  )
  return {
    tags: await db.rows<Named>("SELECT id, name FROM tag WHERE merged_into IS NULL ORDER BY name LIMIT 500"),
    courses: await db.rows<Named>("SELECT id, title AS name FROM course ORDER BY title LIMIT 500"),
    lessons: await db.rows<Named>(
      "SELECT l.id, CONCAT(l.title, ', ', c.title) AS name FROM lesson l JOIN course c ON c.id = l.course_id WHERE l.state = 'live' ORDER BY c.title, l.position LIMIT 500",
    ),
    offers: await db.rows<Named>(
      "SELECT id, public_name AS name FROM offer WHERE removed_at IS NULL ORDER BY public_name LIMIT 500",
    ),
    sequences: await db.rows<Named>("SELECT id, name FROM sequence ORDER BY name LIMIT 500"),
    sources: sources.map((s) => s.source),
    zones: zones.map((z) => z.zone),
    fields: await listFields(db),
  }
}
