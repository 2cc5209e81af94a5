// Links that say where they stand: made for a page, put into a letter or on a poster, and counted by their source.

import * as v from "valibot"
import { kindsThat } from "@/core/funnel/step/list"
import { sourceOf, sourceQuery, tidySource } from "@/core/source"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { gone, id, type Made, ok, refusal, type Saved } from "../saved"

const word = (empty: boolean) =>
  v.pipe(
    v.string(),
    v.transform(tidySource),
    v.check((t) => empty || t !== "", refusals.value.empty),
    // What begins with @ is an affiliate's, and no link says it of itself.
    v.check((t) => !t.startsWith("@"), refusals.funnel.sourceAt),
  )

const input = v.object({ step: id, source: word(false), campaign: word(true) })

/** Kinds of step at which people come in from outside. */
const entries = kindsThat((k) => k.entry)

/** Makes a link; one that is there already is the same. */
export async function makeTrackedLink(s: Context, typed: unknown): Promise<Made> {
  const read = v.safeParse(input, typed)
  if (!read.success) return refusal(read.issues)
  const { step, source, campaign } = read.output
  const page = await s.db.row("SELECT 1 FROM step WHERE id = ? AND kind IN (?)", [step, entries])
  if (!page) return { refused: refusals.gone.page, field: "step" }
  const made = await s.db.insert(
    "tracked_link",
    { step_id: step, source, campaign, made_at: new Date(await s.clock.now()) },
    "ON DUPLICATE KEY UPDATE id = LAST_INSERT_ID(id)",
  )
  return { ok: true, id: made.id }
}

export async function removeTrackedLink(s: Context, link: number): Promise<Saved> {
  const done = await s.db.write("DELETE FROM tracked_link WHERE id = ?", [link])
  return done.affected ? ok : gone
}

export type TrackedLink = {
  readonly id: number
  readonly page: string
  readonly funnel: string
  readonly live: boolean
  /** The name under which its visitors are counted. */
  readonly source: string
  /** The whole address: where the page stands live, whatever its draft says. */
  readonly url: string
  /** Whoever came by it, ever. */
  readonly visited: number
}

/** Newest first; at most 500. */
export async function listTrackedLinks(s: Context): Promise<TrackedLink[]> {
  const rows = await s.db.rows<
    Pick<Row<"tracked_link">, "id" | "source" | "campaign"> & {
      step: number
      path: string
      page: string
      funnel: string
      live: number
    }
  >(
    `SELECT k.id, t.id AS step, COALESCE(p.path, t.path) AS path, t.name AS page, f.name AS funnel, p.path IS NOT NULL AS live, k.source, k.campaign
     FROM tracked_link k JOIN step t ON t.id = k.step_id JOIN funnel f ON f.id = t.funnel_id LEFT JOIN live_page p ON p.step_id = t.id ORDER BY k.id DESC LIMIT 500`,
  )
  const named = rows.map((r) => ({ ...r, name: countedUnder(r.source, r.campaign) }))
  const visits = await visitsBy(s.db, named)
  return named.map((r) => ({
    id: r.id,
    page: r.page,
    funnel: r.funnel,
    live: Boolean(r.live),
    source: r.name,
    url: `${s.config.origin}/${r.path}${sourceQuery(r.source, r.campaign)}`,
    visited: visits.get(`${r.step} ${r.name}`) ?? 0,
  }))
}

/** As the river names whoever comes by such a link. */
const countedUnder = (source: string, campaign: string): string =>
  sourceOf(new URLSearchParams(sourceQuery(source, campaign)), "", "")

/** Visitors by step and source, from the sums and what isn't in them yet. */
async function visitsBy(
  db: Db,
  links: readonly { readonly step: number; readonly name: string }[],
): Promise<Map<string, number>> {
  if (!links.length) return new Map()
  const [steps, names] = [[...new Set(links.map((l) => l.step))], [...new Set(links.map((l) => l.name))]]
  const rows = await db.rows<{ step: number; source: string; n: number }>(
    `SELECT step_id AS step, source, SUM(n) AS n FROM (
       SELECT step_id, source, n FROM river_day WHERE funnel_id IN (SELECT funnel_id FROM step WHERE id IN (?)) AND via = 'source' AND step_id IN (?) AND source IN (?)
       UNION ALL SELECT step_id, source, 1 FROM flow_change WHERE via = 'source' AND step_id IN (?) AND source IN (?)) x GROUP BY 1, 2`,
    [steps, steps, names, steps, names],
  )
  return new Map(rows.map((r) => [`${r.step} ${r.source}`, r.n]))
}

/** Pages that a link can lead to, those of live funnels first; at most 300. */
export function linkTargets(db: Db): Promise<{ readonly id: number; readonly name: string }[]> {
  return db.rows(
    "SELECT t.id, CONCAT(t.name, ' (', f.name, ')') AS name FROM step t JOIN funnel f ON f.id = t.funnel_id WHERE t.kind IN (?) ORDER BY f.live_release_id IS NULL, f.name, t.position LIMIT 300",
    [entries],
  )
}
