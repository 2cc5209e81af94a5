// Everything that sets anything off, in one list: outcomes of steps as they are in the drafts, and occasions of the school.

import { type ChainLink, type EffectOf, whatFollows } from "@/core/funnel/chain"
import { type Occasion, occasions } from "@/core/funnel/occasion/list"
import { type Outcome, outcomes } from "@/core/funnel/step/list"
import { grouped } from "@/core/group"
import type { Again } from "@/core/sequence/effect/kind"
import { againOf, deedSays, refsOfDeed, sequenceBegun } from "@/core/sequence/effect/list"
import type { Db } from "../db/pool"
import { namesOf } from "../names"
import { loadWires } from "../sequence/chain"
import { type ActionRow, named } from "../sequence/effect/named"
import { sequenceNames } from "../sequence/sequence-view"

export type EffectListed = {
  readonly id: number
  /** After "when somebody". */
  readonly when: string
  /** Where that is, and where it is changed. */
  readonly where: string
  readonly href: string
  readonly does: string
  /** Null: it hangs on no occasion of the school, but on an outcome. */
  readonly occasion: Occasion | null
  /** The sequence that it begins, and whether again; null: it begins none. */
  readonly begins: number | null
  readonly again: Again
  readonly deed: EffectOf
}

type Row = ActionRow & {
  outcome: Outcome | null
  step_id: number | null
  step: string | null
  funnel_id: number | null
  funnel: string | null
  occasion: Occasion | null
  offer_id: number | null
  offer: string | null
  tag_id: number | null
  tag: string | null
  lesson_id: number | null
  lesson: string | null
  course_id: number | null
  module_id: number | null
  module: string | null
  course: string | null
  sequence_id: number | null
  sequence: string | null
  field_id: number | null
  field: string | null
  choice: string | null
  coupon_id: number | null
  coupon: string | null
  webinar_id: number | null
  webinar: string | null
}

/** Funnels first, by name; at most 500. */
export async function listEffects(db: Db): Promise<EffectListed[]> {
  const rows = await db.rows<Row>(
    `SELECT e.id, e.kind, e.settings, e.outcome, s.id AS step_id, s.name AS step, f.id AS funnel_id, f.name AS funnel, e.occasion,
       o.id AS offer_id, o.public_name AS offer, t.id AS tag_id, t.name AS tag, l.id AS lesson_id, l.title AS lesson, COALESCE(l.course_id, m.course_id, c.id) AS course_id, m.id AS module_id, m.title AS module, c.title AS course, q.id AS sequence_id, q.name AS sequence, COALESCE(d.id, h.field_id) AS field_id, d.label AS field, h.says AS choice, k.id AS coupon_id, k.code AS coupon, w.id AS webinar_id, w.name AS webinar
     FROM effect e LEFT JOIN step s ON s.id = e.step_id LEFT JOIN funnel f ON f.id = s.funnel_id LEFT JOIN offer o ON o.id = e.on_offer_id
     LEFT JOIN tag t ON t.id = e.on_tag_id LEFT JOIN lesson l ON l.id = e.on_lesson_id LEFT JOIN sequence q ON q.id = e.on_sequence_id LEFT JOIN module m ON m.id = e.on_module_id LEFT JOIN course c ON c.id = e.on_course_id
     LEFT JOIN field d ON d.id = e.on_field_id LEFT JOIN choice h ON h.id = e.on_choice_id LEFT JOIN coupon k ON k.id = e.on_coupon_id LEFT JOIN webinar w ON w.id = e.on_webinar_id
     ORDER BY f.name IS NULL, f.name, s.position, e.occasion, e.id LIMIT 500`,
  )
  const deeds = new Map((await named(db, rows)).map((d) => [d.id, d]))
  return rows.flatMap((r): EffectListed[] => {
    const deed = deeds.get(r.id)
    return deed
      ? [
          {
            id: r.id,
            does: deedSays(deed),
            occasion: r.occasion,
            begins: sequenceBegun(deed),
            again: againOf(deed),
            deed: { kind: deed.kind, settings: deed.settings },
            ...placeOf(r),
          },
        ]
      : []
  })
}

function placeOf(r: Row): Pick<EffectListed, "when" | "where" | "href"> {
  if (r.outcome !== null)
    return {
      when: `${outcomes[r.outcome].verb} on “${r.step}”`,
      where: r.funnel ?? "",
      href: `/studio/funnels/${r.funnel_id}?step=s${r.step_id}`,
    }
  const says = (name: string | null) => occasions[r.occasion!].says(`“${name}”`)
  if (r.offer_id !== null) return { when: says(r.offer), where: "Offer", href: `/studio/offers/${r.offer_id}` }
  if (r.tag_id !== null) return { when: says(r.tag), where: "Tag", href: `/studio/people/tags?tag=${r.tag_id}` }
  if (r.lesson_id !== null)
    return { when: says(r.lesson), where: "Lesson", href: `/studio/courses/${r.course_id}?lesson=${r.lesson_id}` }
  if (r.module_id !== null || r.course !== null)
    return {
      when: says(r.module ?? r.course),
      where: r.module_id === null ? "Course" : "Module",
      href: `/studio/courses/${r.course_id}/settings`,
    }
  if (r.field_id !== null)
    return { when: says(r.field ?? r.choice), where: "Field", href: `/studio/people/fields?field=${r.field_id}` }
  if (r.coupon_id !== null)
    return { when: says(r.coupon), where: "Coupon", href: `/studio/offers/coupons?coupon=${r.coupon_id}` }
  if (r.webinar_id !== null)
    return { when: says(r.webinar), where: "Webinar", href: `/studio/calendar/webinars/${r.webinar_id}` }
  if (r.sequence_id !== null)
    return {
      when: says(r.sequence),
      where: "Sequence",
      href: `/studio/mail/sequences/${r.sequence_id}`,
    }
  return { when: says(""), where: "The school", href: "/studio/settings/automations" }
}

/** What an effect that hangs on an occasion can be about; each by name, at most 500. */
/** The offers that can be recommended. */
export const offersWithProgramme = (db: Db) =>
  db.rows<{ id: number; name: string }>(
    "SELECT o.id, o.public_name AS name FROM offer o JOIN programme p ON p.offer_id = o.id ORDER BY o.public_name LIMIT 500",
  )

export async function effectChoices(db: Db): Promise<{
  readonly sequences: readonly { id: number; name: string }[]
  readonly tags: readonly string[]
  readonly courses: readonly { id: number; title: string }[]
  readonly programmes: readonly { id: number; name: string }[]
}> {
  const tags = await db.rows<{ name: string }>("SELECT name FROM tag WHERE merged_into IS NULL ORDER BY name LIMIT 500")
  return {
    sequences: await sequenceNames(db),
    tags: tags.map((t) => t.name),
    courses: await db.rows("SELECT id, title FROM course ORDER BY title LIMIT 500"),
    programmes: await offersWithProgramme(db),
  }
}

/** Something that is done, in words, and what follows from it. */
export type LinkSaid = {
  readonly says: string
  readonly later: boolean
  readonly maybe: boolean
  readonly again: boolean
  readonly follows: readonly LinkSaid[]
}

export type OccasionSaid = Pick<EffectListed, "when" | "where" | "href"> & { readonly sets: readonly LinkSaid[] }

/** Every occasion that sets anything off, with all that follows from it. */
export async function whatSetsOffWhat(db: Db): Promise<OccasionSaid[]> {
  const wires = await loadWires(db)
  const groups = grouped(await listEffects(db), (e) => `${e.when}\n${e.href}`)
  const links = [...groups.values()].map((all) =>
    whatFollows(
      wires,
      all.map((e) => e.deed),
    ),
  )
  const every = (l: ChainLink): ChainLink["effect"][] => [l.effect, ...l.follows.flatMap(every)]
  const name = await namesOf(
    db,
    links
      .flat()
      .flatMap(every)
      .flatMap((e) => refsOfDeed(e).slice(0, 1)),
  )
  const said = (l: ChainLink): LinkSaid => {
    const ref = refsOfDeed(l.effect)[0]
    const { later, maybe, again } = l
    return {
      says: deedSays({ ...l.effect, name: (ref && name(ref.to, ref.id)) ?? "" }),
      later,
      maybe,
      again,
      follows: l.follows.map(said),
    }
  }
  return [...groups.values()].map(([first], i) => ({
    when: first!.when,
    where: first!.where,
    href: first!.href,
    sets: links[i]!.map(said),
  }))
}
