// What refers to what: written anew from each document whenever it is saved, and asked where something is used.

import type { Ref, Referred } from "@/core/reference"
import type { Db } from "./db/pool"
import type { Row } from "./db/row"

/** What refers: a place in a funnel, or a course, lesson, offer or notice. */
export type Referrer = {
  readonly funnel?: number
  readonly step?: number
  readonly block?: string
  readonly mail?: number
  readonly effect?: number
  readonly course?: number
  readonly lesson?: number
  readonly offer?: number
  readonly notice?: number
  readonly segment?: number
  readonly sequence?: number
  readonly broadcast?: number
  readonly webinar?: number
  readonly section?: number
}

const column: Record<Referred, string> = {
  offer: "offer_id",
  course: "course_id",
  lesson: "lesson_id",
  media: "media_id",
  sequence: "sequence_id",
  tag: "tag_id",
  step: "to_step_id",
  field: "field_id",
  choice: "choice_id",
  webinar: "webinar_id",
  segment: "segment_id",
  teacher: "teacher_id",
  kept_section: "section_id",
}

const targets = Object.keys(column) as Referred[]

/** Writes what documents refer to, in place of what `of` referred to before. What is no longer there is left out. */
export async function writeReferences(
  tx: Db,
  of:
    | { readonly effect: number }
    | { readonly funnel: number }
    | { readonly course: number }
    | { readonly lesson: number }
    | { readonly offer: number }
    | { readonly notice: number }
    | { readonly segment: number }
    | { readonly sequence: number }
    | { readonly broadcast: number }
    | { readonly webinar: number }
    | { readonly section: number },
  references: readonly { readonly from: Referrer; readonly ref: Ref }[],
): Promise<void> {
  if ("funnel" in of) await tx.write("DELETE FROM reference WHERE funnel_id = ?", [of.funnel])
  else if ("course" in of) await tx.write("DELETE FROM reference WHERE from_course_id = ?", [of.course])
  else if ("lesson" in of) await tx.write("DELETE FROM reference WHERE from_lesson_id = ?", [of.lesson])
  else if ("notice" in of) await tx.write("DELETE FROM reference WHERE from_notice_id = ?", [of.notice])
  else if ("segment" in of) await tx.write("DELETE FROM reference WHERE from_segment_id = ?", [of.segment])
  else if ("sequence" in of) await tx.write("DELETE FROM reference WHERE from_sequence_id = ?", [of.sequence])
  else if ("broadcast" in of) await tx.write("DELETE FROM reference WHERE from_broadcast_id = ?", [of.broadcast])
  else if ("webinar" in of) await tx.write("DELETE FROM reference WHERE from_webinar_id = ?", [of.webinar])
  else if ("section" in of) await tx.write("DELETE FROM reference WHERE from_section_id = ?", [of.section])
  else if ("offer" in of) await tx.write("DELETE FROM reference WHERE from_offer_id = ?", [of.offer])
  else await tx.write("DELETE FROM reference WHERE funnel_id IS NULL AND effect_id = ?", [of.effect])
  const there = await existing(
    tx,
    references.map((r) => r.ref),
  )
  const rows = references
    .filter(({ ref }) => there.has(`${ref.to}:${ref.id}`))
    .map(({ from: f, ref }) => [
      f.funnel ?? null,
      f.step ?? null,
      f.block ?? null,
      f.mail ?? null,
      f.effect ?? null,
      f.course ?? null,
      f.lesson ?? null,
      f.offer ?? null,
      f.notice ?? null,
      f.segment ?? null,
      f.sequence ?? null,
      f.broadcast ?? null,
      f.webinar ?? null,
      f.section ?? null,
      ...targets.map((t) => (t === ref.to ? ref.id : null)),
      ref.use,
    ])
  if (rows.length)
    await tx.write(
      `INSERT INTO reference (funnel_id, step_id, block, mail_id, effect_id, from_course_id, from_lesson_id, from_offer_id, from_notice_id, from_segment_id, from_sequence_id, from_broadcast_id, from_webinar_id, from_section_id, ${targets.map((t) => column[t]).join(", ")}, say) VALUES ?`,
      [rows],
    )
}

async function existing(tx: Db, refs: readonly Ref[]): Promise<Set<string>> {
  const there = new Set<string>()
  for (const to of new Set(refs.map((r) => r.to))) {
    const ids = [...new Set(refs.filter((r) => r.to === to).map((r) => r.id))]
    const rows = await tx.rows<{ id: number }>(`SELECT id FROM \`${to}\` WHERE id IN (?)`, [ids])
    for (const r of rows) there.add(`${to}:${r.id}`)
  }
  return there
}

/** A place where something is used, as the studio names it, and where it is seen. */
export type Use = {
  readonly says: string
  /** What it is used for there, after "it": "sells it". */
  readonly use: string
  readonly href: string
}

/** Where something is used; at most 200 places. */
export async function usesOf(db: Db, to: Referred, id: number): Promise<Use[]> {
  const rows = await db.rows<
    Pick<Row<"reference">, "say" | "mail_id" | "effect_id"> & {
      funnel_id: number | null
      funnel: string | null
      step_id: number | null
      step: string | null
      hasPage: number
      sequence: string | null
      sequence_of: number | null
      mail_subject: string | null
      course_id: number | null
      course: string | null
      lesson: string | null
      offer_id: number | null
      offer: string | null
      notice_id: number | null
      notice: string | null
      segment_id: number | null
      segment: string | null
      broadcast_id: number | null
      broadcast: string | null
      webinar_of: number | null
      webinar: string | null
      section_of: number | null
      section: string | null
    }
  >(
    `SELECT r.say, r.effect_id, f.id AS funnel_id, f.name AS funnel, t.id AS step_id, t.name AS step, r.block IS NOT NULL AS hasPage, q.name AS sequence, q.id AS sequence_of, r.mail_id, m.subject AS mail_subject,
       c.id AS course_id, c.title AS course, l.title AS lesson, o.id AS offer_id, o.public_name AS offer, n.id AS notice_id, n.title AS notice, g.id AS segment_id, g.name AS segment, w.id AS broadcast_id, w.name AS broadcast, z.id AS webinar_of, z.name AS webinar, k.id AS section_of, k.name AS section
     FROM reference r LEFT JOIN funnel f ON f.id = r.funnel_id LEFT JOIN step t ON t.id = r.step_id LEFT JOIN sequence_mail m ON m.id = r.mail_id
     LEFT JOIN sequence q ON q.id = r.from_sequence_id LEFT JOIN lesson l ON l.id = r.from_lesson_id LEFT JOIN course c ON c.id = COALESCE(r.from_course_id, l.course_id)
     LEFT JOIN kept_section k ON k.id = r.from_section_id LEFT JOIN webinar z ON z.id = r.from_webinar_id LEFT JOIN broadcast w ON w.id = r.from_broadcast_id LEFT JOIN segment g ON g.id = r.from_segment_id LEFT JOIN notice n ON n.id = r.from_notice_id LEFT JOIN offer o ON o.id = r.from_offer_id AND o.removed_at IS NULL
     WHERE r.${column[to]} = ? AND (r.from_offer_id IS NULL OR o.id IS NOT NULL) ORDER BY f.name, t.position, r.id LIMIT 200`,
    [id],
  )
  return rows.map((r): Use => {
    const use = r.say
    if (r.sequence !== null)
      return {
        use,
        says:
          r.mail_id === null
            ? `the sequence “${r.sequence}”`
            : `the e-mail “${r.mail_subject || "without a subject"}” of “${r.sequence}”`,
        href: `/studio/mail/sequences/${r.sequence_of}`,
      }
    if (r.step !== null)
      return {
        use,
        says: `“${r.step}” in “${r.funnel}”`,
        href: r.hasPage
          ? `/studio/funnels/${r.funnel_id}/steps/${r.step_id}`
          : `/studio/funnels/${r.funnel_id}?step=s${r.step_id}`,
      }
    if (r.segment !== null)
      return { use, says: `the segment “${r.segment}”`, href: `/studio/people/segments/${r.segment_id}` }
    if (r.broadcast !== null)
      return { use, says: `the broadcast “${r.broadcast}”`, href: `/studio/mail/broadcasts/${r.broadcast_id}` }
    if (r.webinar !== null)
      return { use, says: `the webinar “${r.webinar}”`, href: `/studio/calendar/webinars/${r.webinar_of}` }
    if (r.section !== null)
      return { use, says: `the kept section “${r.section}”`, href: `/studio/funnels/sections/${r.section_of}` }
    if (r.notice !== null)
      return { use, says: `the notice “${r.notice}”`, href: `/studio/courses/notices/${r.notice_id}` }
    if (r.effect_id !== null) return { use, says: "an effect of the school", href: "/studio/settings/automations" }
    if (r.offer !== null) return { use, says: `the offer “${r.offer}”`, href: `/studio/offers/${r.offer_id}` }
    const says = r.lesson === null ? `the course “${r.course}”` : `the lesson “${r.lesson}” of “${r.course}”`
    return { use, says, href: `/studio/courses/${r.course_id}` }
  })
}
