// A question about people as MariaDB is asked it.
import * as v from "valibot"
import type { Sql } from "@/core/person/segment/kind"
import { type SavedSegments, type Segment, segmentSchema, segmentsIn, sqlOf } from "@/core/person/segment/segment"
import type { Db } from "../db/pool"

/** A question as it is kept. */
export const readQuestion = (json: string): Segment => v.parse(segmentSchema, JSON.parse(json))

/** A question as a part of a WHERE over `person p`, with the saved segments that it asks for as they are now. */
export async function whereOf(db: Db, segment: Segment, now: number): Promise<Sql> {
  return sqlOf(segment, now, await savedWithin(db, segment))
}

/** The saved segments that a question asks for, and those that they ask for. */
export async function savedWithin(db: Db, segment: Segment): Promise<SavedSegments> {
  const saved = new Map<number, Segment>()
  for (let ask = segmentsIn(segment); ask.length; ) {
    const rows = await db.rows<{ id: number; question: string }>("SELECT id, question FROM segment WHERE id IN (?)", [
      ask,
    ])
    for (const r of rows) saved.set(r.id, readQuestion(r.question))
    ask = rows.flatMap((r) => segmentsIn(saved.get(r.id)!)).filter((id) => !saved.has(id))
  }
  return saved
}
