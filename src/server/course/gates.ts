// Gates as stored: the school's own; a course's and a lesson's are saved with them.
import * as v from "valibot"
import { type Gates, gatesSchema, readGates } from "@/core/course/gate"
import { kindsThat } from "@/core/funnel/step/list"
import type { Db } from "../db/pool"
import { refusal, type Saved } from "../saved"
import type { Surroundings } from "../surroundings"
import { pageThatLeadsTo } from "./learn"

export async function schoolGates(db: Db): Promise<Gates> {
  const row = await db.row<{ gates: string }>("SELECT gates FROM school WHERE id = 1")
  return readGates(row?.gates ?? "{}")
}

export async function saveSchoolGates(s: Surroundings, typed: unknown): Promise<Saved> {
  const read = v.safeParse(gatesSchema, typed)
  if (!read.success) return refusal(read.issues)
  await s.db.write("UPDATE school SET gates = ? WHERE id = 1", [JSON.stringify(read.output)])
  return { ok: true }
}

export type GateView = {
  readonly school: Gates
  /** The live page that is found by itself, without a slash. */
  readonly page: string | null
  readonly steps: readonly {
    readonly id: number
    readonly name: string
    readonly funnel: string
    readonly live: boolean
  }[]
  readonly lessons: readonly { readonly id: number; readonly title: string; readonly gates: Gates }[]
}

/** What there is to choose from for the gates of a course, and what its lessons have chosen. */
export async function gateView(db: Db, course: number): Promise<GateView> {
  const steps = await db.rows<{ id: number; name: string; funnel: string; live: number }>(
    `SELECT s.id, s.name, f.name AS funnel, EXISTS (SELECT 1 FROM live_page p WHERE p.step_id = s.id) AS live
     FROM step s JOIN funnel f ON f.id = s.funnel_id WHERE s.kind IN (?) ORDER BY f.name, s.position, s.id LIMIT 500`,
    [kindsThat((k) => k.entry)],
  )
  const lessons = await db.rows<{ id: number; title: string; gates: string }>(
    "SELECT id, title, gates FROM lesson WHERE course_id = ? AND state <> 'removed' ORDER BY position, id",
    [course],
  )
  return {
    school: await schoolGates(db),
    page: await pageThatLeadsTo(db, course),
    steps: steps.map((x) => ({ ...x, live: Boolean(x.live) })),
    lessons: lessons.map((l) => ({ ...l, gates: readGates(l.gates) })),
  }
}
