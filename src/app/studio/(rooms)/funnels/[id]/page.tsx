import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { compilePage } from "@/core/funnel/compile"
import { layoutRiver } from "@/core/funnel/layout"
import { count, outlineOf } from "@/core/funnel/river"
import { roundRiver } from "@/core/funnel/round-river"
import { hasOutcomes, offerOf } from "@/core/funnel/step/list"
import { digitsOf, moneyRound } from "@/core/offer/money"
import { fillPage } from "@/core/page/compile"
import { courseNames } from "@/server/course/course-view"
import { changesOf } from "@/server/funnel/change"
import { offersWithProgramme } from "@/server/funnel/effects-view"
import { currencyOf, firstJourney, funnelName, stoppedAt } from "@/server/funnel/funnel-view"
import { loadFunnel } from "@/server/funnel/load"
import { checkFunnel, isChanged, previewContext, releasesOf } from "@/server/funnel/release"
import { readRivers, underWay } from "@/server/funnel/rollup"
import { datesOfFunnel } from "@/server/funnel/webinar-dates"
import { forecastOfDays } from "@/server/numbers/forecast"
import { allTags } from "@/server/person/people"
import { schoolZone } from "@/server/school-view"
import { mailNumbers } from "@/server/sequence/sequence-view"
import { countsBy } from "@/server/tally"
import { idOf } from "../../asked"
import { dated, day, studioMoment } from "../../words"
import { lookedAt, rangeOf } from "./range"
import { Workspace } from "./workspace"

type Params = {
  params: Promise<{ id: string }>
  searchParams: Promise<{
    from?: string
    to?: string
    in?: string
    ways?: string
    date?: string
    by?: string
    step?: string
    preflight?: string
  }>
}

export async function generateMetadata({ params }: Params) {
  const s = await studio()
  return { title: await funnelName(s.db, idOf((await params).id)) }
}

export default async function FunnelPage({ params, searchParams }: Params) {
  const s = await studio()
  const id = idOf((await params).id)
  const asked = await searchParams
  const funnel = await loadFunnel(s.db, id)
  if (!funnel) notFound()
  const zone = await schoolZone(s.db)
  const first = await firstJourney(s.db, id)
  const now = await s.clock.now()
  const looked = lookedAt(asked)
  // Whoever has a seat for a date may have come long before it.
  const range = rangeOf(looked.date === null ? asked : { from: "beginning" }, zone, now, first ?? now)
  const [rivers, findings, context, changes, stopped] = await Promise.all([
    readRivers(s, funnel, range, looked.ways, looked.date, looked.each),
    checkFunnel(s, funnel),
    previewContext(s, funnel),
    changesOf(s.db, id),
    stoppedAt(s.db, id, range),
  ])
  const river = rivers.people
  const offers = Object.values(context.offers ?? {})
  const selling = funnel.steps.some((x) => offerOf(x) !== null)
  const money = selling ? rivers.money : null
  const currency = await currencyOf(s.db, funnel.id)
  const drawn = looked.measure === "money" && money ? roundRiver(money, 10 ** digitsOf(currency)) : river
  const says = (n: number) => (drawn === river ? count(n) : moneyRound(n, currency))
  // People alone are forecast by the step.
  const forecast =
    looked.forecast && drawn === river && !looked.ways.length && looked.date === null
      ? await forecastOfDays(s, id, range.firstDay, range.lastDay)
      : null
  const releases = await releasesOf(s.db, id)
  const live = releases.find((r) => r.live)
  const running = await countsBy(s.db, "running")
  return (
    <Workspace
      draft={{
        funnel: { ...funnel, steps: funnel.steps.map((step) => ({ ...step, page: null })) },
        findings,
        previews: Object.fromEntries(
          funnel.steps.filter((x) => x.page).map((x) => [x.id, fillPage(compilePage(x, context).pieces, {})]),
        ),
        changes: changes.map((c) => ({ ...c, at: studioMoment(c.at, zone) })),
      }}
      counted={{
        range: {
          from: range.firstDay,
          to: range.lastDay,
          says: `${day(range.from, zone)} – ${day(range.to - 1, zone)}`,
          today: range.today,
        },
        looked,
        dates: (await datesOfFunnel(s, funnel)).map((d) => ({ id: d.id, says: dated(d.starts, zone) })),
        river,
        money: money && { river: money, currency },
        drawing: layoutRiver(drawn, 1238, says, forecast?.visits),
        forecast: forecast && { days: forecast.days, of: forecast.of },
        outline: outlineOf(drawn, drawn === river ? count : says),
        stopped,
        mails: await mailNumbers(
          s.db,
          funnel.sequences.map((q) => q.id),
        ),
      }}
      published={{
        live: live ? { since: day(live.at, zone), number: live.number, changed: await isChanged(s.db, funnel) } : null,
        releases: releases.map((r) => ({
          id: r.id,
          number: r.number,
          live: r.live,
          at: studioMoment(r.at, zone),
          who: r.who,
        })),
        underWay: {
          here: await underWay(
            s,
            id,
            funnel.steps.filter((x) => hasOutcomes(x.kind)).map((x) => x.id),
          ),
          mails: funnel.sequences.reduce((sum, q) => sum + (running.get(q.id) ?? 0), 0),
        },
      }}
      choices={{
        tags: (await allTags(s.db)).map((t) => t.name),
        courses: await courseNames(s.db),
        offers,
        programmes: await offersWithProgramme(s.db),
      }}
      selected={asked.step ?? null}
      openPreflight={asked.preflight !== undefined}
    />
  )
}
