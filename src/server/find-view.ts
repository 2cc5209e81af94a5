// Everything that has a place of its own in the studio, to be found by its name.
import { kindsThat } from "@/core/funnel/step/list"
import type { Db } from "./db/pool"

export type Findable = { readonly group: string; readonly name: string; readonly href: string }

/** At most a few hundred of each. */
export async function findables(db: Db): Promise<Findable[]> {
  const funnels = await db.rows<{ id: number; name: string }>("SELECT id, name FROM funnel ORDER BY name LIMIT 200")
  const courses = await db.rows<{ id: number; title: string }>("SELECT id, title FROM course ORDER BY title LIMIT 200")
  const steps = await db.rows<{ id: number; name: string; funnel_id: number; funnel: string }>(
    "SELECT t.id, t.name, t.funnel_id, f.name AS funnel FROM step t JOIN funnel f ON f.id = t.funnel_id WHERE t.kind IN (?) ORDER BY f.name, t.position LIMIT 400",
    [kindsThat((k) => k.hasPage)],
  )
  const offers = await db.rows<{ id: number; name: string }>(
    "SELECT id, IF(internal_name = '', public_name, internal_name) AS name FROM offer WHERE removed_at IS NULL ORDER BY name LIMIT 200",
  )
  const named = (table: "sequence" | "broadcast" | "segment" | "webinar") =>
    db.rows<{ id: number; name: string }>(`SELECT id, name FROM \`${table}\` ORDER BY name LIMIT 200`)
  const [sequences, broadcasts, segments, webinars] = await Promise.all([
    named("sequence"),
    named("broadcast"),
    named("segment"),
    named("webinar"),
  ])
  const affiliates = await db.rows<{ id: number; name: string }>(
    "SELECT id, public_name AS name FROM affiliate WHERE public_name <> '' ORDER BY public_name LIMIT 400",
  )
  return [
    ...funnels.map((f) => ({ group: "Funnels", name: f.name, href: `/studio/funnels/${f.id}` })),
    ...steps.map((t) => ({
      group: "Pages",
      name: `${t.name} (${t.funnel})`,
      href: `/studio/funnels/${t.funnel_id}/steps/${t.id}`,
    })),
    ...offers.map((o) => ({ group: "Offers", name: o.name, href: `/studio/offers/${o.id}` })),
    ...courses.map((c) => ({ group: "Courses", name: c.title, href: `/studio/courses/${c.id}` })),
    ...sequences.map((q) => ({ group: "Mail", name: q.name, href: `/studio/mail/sequences/${q.id}` })),
    ...broadcasts.map((b) => ({ group: "Mail", name: b.name, href: `/studio/mail/broadcasts/${b.id}` })),
    ...segments.map((g) => ({ group: "Segments", name: g.name, href: `/studio/people/segments/${g.id}` })),
    ...affiliates.map((a) => ({ group: "Affiliates", name: a.name, href: `/studio/affiliates/${a.id}` })),
    ...webinars.map((w) => ({ group: "Webinars", name: w.name, href: `/studio/calendar/webinars/${w.id}` })),
  ]
}
