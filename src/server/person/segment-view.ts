// What there is to choose from when a question about people is built.
import { askedOf } from "@/core/course/survey"
import { allBlocks, readPage } from "@/core/page/document"
import type { Field } from "@/core/person/field"
import type { Db } from "../db/pool"
import { schoolZone } from "../school-view"
import { listFields } from "./field"

export type NamedThing = { readonly id: number; readonly name: string }

export type SegmentChoices = {
  readonly segments: readonly NamedThing[]
  readonly tags: readonly NamedThing[]
  readonly courses: readonly NamedThing[]
  readonly lessons: readonly NamedThing[]
  readonly offers: readonly NamedThing[]
  readonly webinars: readonly NamedThing[]
  readonly sequences: readonly NamedThing[]
  readonly sources: readonly string[]
  readonly zones: readonly string[]
  readonly fields: readonly Field[]
  /** Pages of funnels. */
  readonly pages: readonly NamedThing[]
  /** By their codes. */
  readonly coupons: readonly NamedThing[]
  readonly surveys: readonly SurveyAsked[]
  /** What the school sells in most. */
  readonly currency: string
  /** The school's. */
  readonly zone: string
}

/** A question of a survey, with what can be answered: numbers of options, or of a scale. */
export type SurveyAsked = {
  readonly lesson: number
  readonly block: string
  readonly question: string
  readonly asks: string
  readonly answers: readonly { readonly n: number; readonly says: string }[]
}

/** The questions of surveys in lessons, at most those of 200 lessons. */
async function surveysAsked(db: Db): Promise<SurveyAsked[]> {
  const rows = await db.rows<{ id: number; page: string }>(
    `SELECT id, page FROM lesson WHERE state <> 'removed' AND page LIKE '%"kind":"survey"%' ORDER BY course_id, position LIMIT 200`,
  )
  return rows.flatMap((row) =>
    [...allBlocks(readPage(JSON.parse(row.page)).blocks)].flatMap((b) =>
      "survey" in b
        ? askedOf(b.survey).map((q): SurveyAsked => {
            const answers =
              q.kind === "choice"
                ? q.options.flatMap((says, n) => (says.trim() ? [{ n, says }] : []))
                : q.kind === "scale"
                  ? Array.from({ length: q.most }, (_, i) => ({ n: i + 1, says: String(i + 1) }))
                  : []
            return { lesson: row.id, block: b.id, question: q.id, asks: q.asks.slice(0, 600), answers }
          })
        : [],
    ),
  )
}

/** Segments that are kept, by name. */
export const segmentNames = (db: Db) => db.rows<NamedThing>("SELECT id, name FROM segment ORDER BY name LIMIT 200")

/** By name; at most 500 of each. */
export async function segmentChoices(db: Db): Promise<SegmentChoices> {
  const sources = await db.rows<{ source: string }>(
    "SELECT DISTINCT source FROM (SELECT source FROM person WHERE source <> '' ORDER BY id DESC LIMIT 20000) x ORDER BY source LIMIT 100",
  )
  const zones = await db.rows<{ zone: string }>(
    "SELECT DISTINCT zone FROM (SELECT zone FROM person ORDER BY id DESC LIMIT 20000) x ORDER BY zone LIMIT 500",
  )
  return {
    segments: await segmentNames(db),
    tags: await db.rows<NamedThing>("SELECT id, name FROM tag WHERE merged_into IS NULL ORDER BY name LIMIT 500"),
    courses: await db.rows<NamedThing>("SELECT id, title AS name FROM course ORDER BY title LIMIT 500"),
    lessons: await db.rows<NamedThing>(
      "SELECT l.id, CONCAT(l.title, ', ', c.title) AS name FROM lesson l JOIN course c ON c.id = l.course_id WHERE l.state = 'live' ORDER BY c.title, l.position LIMIT 500",
    ),
    offers: await db.rows<NamedThing>(
      "SELECT id, public_name AS name FROM offer WHERE removed_at IS NULL ORDER BY public_name LIMIT 500",
    ),
    webinars: await db.rows<NamedThing>("SELECT id, name FROM webinar ORDER BY name LIMIT 200"),
    sequences: await db.rows<NamedThing>("SELECT id, name FROM sequence ORDER BY name LIMIT 500"),
    sources: sources.map((s) => s.source),
    zones: zones.map((z) => z.zone),
    fields: await listFields(db),
    pages: await db.rows<NamedThing>(
      "SELECT t.id, CONCAT(f.name, ': ', t.name) AS name FROM step t JOIN funnel f ON f.id = t.funnel_id WHERE t.page IS NOT NULL ORDER BY f.name, t.position LIMIT 500",
    ),
    coupons: await db.rows<NamedThing>("SELECT id, code AS name FROM coupon ORDER BY code LIMIT 500"),
    surveys: await surveysAsked(db),
    currency:
      (
        await db.row<{ currency: string }>(
          "SELECT currency FROM offer WHERE removed_at IS NULL GROUP BY currency ORDER BY COUNT(*) DESC LIMIT 1",
        )
      )?.currency ?? "EUR",
    zone: await schoolZone(db),
  }
}
