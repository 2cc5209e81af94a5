import { notFound } from "next/navigation"
import { studio } from "@/app/door"
import { outcomesOf } from "@/core/funnel/kinds"
import { layoutRiver } from "@/core/funnel/layout"
import { count, outlineOf } from "@/core/funnel/river"
import { moneyRound } from "@/core/offer/money"
import { compilePage, fillPage } from "@/core/page/compile"
import { type Db, number } from "@/server/db/pool"
import { loadFunnel } from "@/server/funnel/load"
import { checkFunnel, isChanged, previewContext, releasesOf } from "@/server/funnel/release"
import { readRivers, underWay } from "@/server/funnel/rollup"
import { changesOf } from "@/server/funnel/steps"
import { countsBy } from "@/server/tally"
import { idOf } from "../../ids"
import { day, longMoment } from "../../words"
import { lookedAt, rangeOf } from "./range"
import { Workspace } from "./workspace"

type Params = {
  params: Promise<{ id: string }>
  searchParams: Promise<{ from?: string; to?: string; in?: string; ways?: string; step?: string; preflight?: string }>
}

export async function generateMetadata({ params }: Params) {
  const s = await studio()
  const row = await s.db.row<{ name: string }>("SELECT name FROM funnel WHERE id = ?", [idOf((await params).id)])
  return { title: row?.name }
}

/** How many began to pay and stopped, by checkout, of those who began in the range. */
async function stoppedAt(db: Db, funnel: number, range: { from: number; to: number }): Promise<Record<number, number>> {
  const rows = await db.rows<{ step: number; n: string }>(
    `SELECT step_id AS step, COUNT(DISTINCT visitor) AS n FROM orders WHERE funnel_id = ? AND first_id IS NULL AND state IN ('begun', 'refused', 'lapsed') AND made_at >= ? AND made_at < ?
     GROUP BY step_id`,
    [funnel, new Date(range.from), new Date(range.to)],
  )
  return Object.fromEntries(rows.map((r) => [r.step, number(r.n)]))
}

/** What a funnel sells in: its first offer's currency. */
async function currencyOf(db: Db, funnel: number): Promise<string> {
  const row = await db.row<{ currency: string }>(
    "SELECT COALESCE((SELECT o.currency FROM step t JOIN offer o ON o.id = t.offer_id WHERE t.funnel_id = ? ORDER BY t.position LIMIT 1), (SELECT currency FROM school WHERE id = 1)) AS currency",
    [funnel],
  )
  return row?.currency ?? "EUR"
}

export default async function FunnelPage({ params, searchParams }: Params) {
  const s = await studio()
  const id = idOf((await params).id)
  const asked = await searchParams
  const funnel = await loadFunnel(s.db, id)
  if (!funnel) notFound()
  const zone = (await s.db.row<{ zone: string }>("SELECT zone FROM school WHERE id = 1"))?.zone ?? "UTC"
  const first = await s.db.row<{ at: Date | null }>("SELECT MIN(begun_at) AS at FROM journey WHERE funnel_id = ?", [id])
  const now = await s.clock.now()
  const range = rangeOf(asked, zone, now, first?.at?.getTime() ?? now)
  const looked = lookedAt(asked)
  const [rivers, findings, context, changes, stopped] = await Promise.all([
    readRivers(s, funnel, range, looked.ways),
    checkFunnel(s, funnel),
    previewContext(s, funnel),
    changesOf(s.db, id),
    stoppedAt(s.db, id, range),
  ])
  const river = rivers.people
  const offers = Object.values(context.offers ?? {})
  const selling = funnel.steps.some((x) => x.offerId !== null)
  const money = selling ? rivers.money : null
  const currency = await currencyOf(s.db, funnel.id)
  const drawn = looked.measure === "money" && money ? money : river
  const says = (n: number) => (drawn === river ? count(n) : moneyRound(n, currency))
  const releases = await releasesOf(s.db, id)
  const live = releases.find((r) => r.live)
  const running = await countsBy(s.db, "running")
  return (
    <Workspace
      funnel={{ ...funnel, steps: funnel.steps.map((step) => ({ ...step, page: null })) }}
      river={river}
      money={money && { river: money, currency }}
      looked={looked}
      stopped={stopped}
      offers={offers}
      changes={changes.map((c) => ({ ...c, at: longMoment(c.at, zone) }))}
      drawing={layoutRiver(drawn, 1238, says)}
      outline={outlineOf(drawn, drawn === river ? count : says)}
      findings={findings}
      previews={Object.fromEntries(
        funnel.steps.filter((x) => x.page).map((x) => [x.id, fillPage(compilePage(x, context).pieces, {})]),
      )}
      releases={releases.map((r) => ({
        id: r.id,
        number: r.number,
        live: r.live,
        at: longMoment(r.at, zone),
        who: r.who,
      }))}
      underWay={{
        here: await underWay(
          s,
          id,
          funnel.steps.filter((x) => outcomesOf(x.kind).length > 0).map((x) => x.id),
        ),
        mails: funnel.sequences.reduce((sum, q) => sum + (running.get(q.id) ?? 0), 0),
      }}
      live={live ? { since: day(live.at, zone), number: live.number, changed: await isChanged(s.db, funnel) } : null}
      range={{
        from: range.firstDay,
        to: range.lastDay,
        says: `${day(range.from, zone)} – ${day(range.to - 1, zone)}`,
        today: range.today,
      }}
      tags={(await s.db.rows<{ name: string }>("SELECT name FROM tag ORDER BY name LIMIT 200")).map((t) => t.name)}
      courses={await s.db.rows<{ id: number; title: string }>("SELECT id, title FROM course ORDER BY title LIMIT 200")}
      selected={asked.step ?? null}
      openPreflight={asked.preflight !== undefined}
    />
  )
}
