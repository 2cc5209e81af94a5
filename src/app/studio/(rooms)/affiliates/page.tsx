import { studio } from "@/app/guard"
import { affiliateStates } from "@/core/affiliate/words"
import { locale } from "@/core/words/locale"
import type { AffiliateState } from "@/server/affiliate/affiliate"
import { affiliatePage, listAffiliates, oddAffiliates, waitingAffiliates } from "@/server/affiliate/list"
import { segmentNames } from "@/server/person/segment-view"
import { listProgrammes } from "@/server/programme/programme"
import { schoolZone } from "@/server/school-view"
import { Button } from "@/ui/button"
import { OnlyWith, SearchBox } from "@/ui/filter"
import { Link, TextLink } from "@/ui/link"
import { Pager } from "@/ui/pager"
import { Table } from "@/ui/table"
import { pageOf } from "../asked"
import { day } from "../words"
import { AddAffiliate, Approve, WriteToAll } from "./add-affiliate"
import { Days } from "./days"
import { type AskedDays, between } from "./query"
import { BroughtCells, broughtColumns, oddText } from "./words"

export const metadata = { title: "Affiliates" }

type Asked = AskedDays & {
  readonly state?: string
  readonly search?: string
  readonly segment?: string
  readonly page?: string
}

export default async function AffiliatesPage({ searchParams }: { searchParams: Promise<Asked> }) {
  const s = await studio()
  const asked = await searchParams
  const zone = await schoolZone(s.db)
  const now = await s.clock.now()
  const state = Object.hasOwn(affiliateStates, asked.state ?? "") ? (asked.state as AffiliateState) : null
  const search = (asked.search ?? "").slice(0, 100)
  const page = pageOf(asked.page)
  const segments = await segmentNames(s.db)
  const segment = segments.find((x) => String(x.id) === asked.segment)?.id ?? null
  const [{ list, total }, programmes, waiting, odd] = await Promise.all([
    listAffiliates(s.db, { ...between(asked, zone), state, search, segment, page }, now),
    listProgrammes(s.db),
    waitingAffiliates(s.db),
    oddAffiliates(s.db, now),
  ])
  const running = programmes.filter((p) => p.on)
  const narrowed = state !== null || segment !== null || search !== "" || asked.from || asked.to
  const here = (n: number) =>
    `/studio/affiliates?${new URLSearchParams(Object.entries({ ...asked, page: String(n + 1) }).flatMap(([k, v]) => (v ? [[k, v]] : [])))}`
  return (
    <>
      <div className="mt-4 flex flex-wrap items-end justify-between gap-x-4 gap-y-2">
        <h1>
          Affiliates{" "}
          <span className="font-sans text-base font-normal text-soft tabular-nums">{total.toLocaleString(locale)}</span>
        </h1>
        <div className="flex flex-wrap gap-2">
          {total || narrowed ? <WriteToAll /> : null}
          {programmes.length ? (
            <AddAffiliate programmes={programmes.map((p) => ({ id: p.offer, name: p.name }))} />
          ) : null}
        </div>
      </div>
      {running.length === 0 ? (
        <p className="mt-3 max-w-2xl">
          No programme is on, so nothing new counts for anybody.{" "}
          <TextLink href="/studio/affiliates/programmes">Switch one on for an offer</TextLink>: what you pay for
          recommending it, and words and pictures to use.
        </p>
      ) : null}
      {waiting.total ? (
        <section aria-label="Waiting for you" className="mt-4 rounded-lg border border-amber bg-amber-wash p-3">
          <h2 className="text-base">
            {waiting.total === 1
              ? "One person wants to join"
              : `${waiting.total.toLocaleString(locale)} people want to join`}
          </h2>
          <ul>
            {waiting.first.map((a) => (
              <li key={a.id} className="mt-1.5 flex flex-wrap items-center justify-between gap-x-4">
                <span className="min-w-0 [overflow-wrap:anywhere]">
                  <Link className="font-semibold text-slate hover:underline" href={`/studio/affiliates/${a.id}`}>
                    <bdi>{a.name}</bdi>
                  </Link>
                  , {a.email}, asked on {day(a.askedAt, zone)}
                </span>
                <Approve affiliate={a.id} name={a.name} />
              </li>
            ))}
          </ul>
          {waiting.total > waiting.first.length ? (
            <p className="mt-2">
              Those who asked first; <TextLink href="/studio/affiliates?state=asked">see all</TextLink>.
            </p>
          ) : null}
        </section>
      ) : null}
      {odd.length ? (
        <p className="mt-3">
          <strong className="text-amber-text">Worth a look:</strong>{" "}
          {odd.slice(0, 5).map((a, i) => (
            <span key={a.id}>
              {i ? "; " : ""}
              <TextLink href={`/studio/affiliates/${a.id}`}>
                <bdi>{a.name}</bdi>
              </TextLink>
              , {a.odd.map(oddText).join(", ")}
            </span>
          ))}
          {odd.length > 5 ? `, and ${(odd.length - 5).toLocaleString(locale)} more` : ""}. Nothing follows from it by
          itself.
        </p>
      ) : null}
      {total || narrowed ? (
        <search>
          <form action="/studio/affiliates" className="mt-4 flex flex-wrap items-center gap-2">
            <SearchBox label="Search by name, code or address" placeholder="Name, code or address" value={search} />
            <OnlyWith
              name="state"
              label="Status"
              any="Any status"
              value={state}
              options={Object.entries(affiliateStates).map(([value, says]) => ({ value, says }))}
            />
            {segments.length ? (
              <OnlyWith
                name="segment"
                label="Segment"
                any="Any segment"
                value={segment}
                options={segments.map((x) => ({ value: x.id, says: x.name }))}
              />
            ) : null}
            <Days asked={asked} what="clicks, joins and sales" />
            <Button type="submit">Show</Button>
          </form>
        </search>
      ) : null}
      {total === 0 ? (
        <p className="mt-8 text-lg">
          {narrowed ? (
            <>
              Nobody fits that. <TextLink href="/studio/affiliates">Show all</TextLink>
            </>
          ) : (
            "Nobody recommends your courses yet. Invite happy learners: by hand, by a list, by a link of a programme, in one of the last lessons, or by an effect."
          )}
        </p>
      ) : (
        <Table
          className="mt-4 min-w-[61rem] table-fixed"
          columns={[{ says: "Affiliate" }, { says: "Status", wide: "w-40" }, ...broughtColumns()]}
        >
          {list.map((a) => (
            <tr key={a.id} className="border-b border-line align-top tabular-nums">
              <td className="py-1.5 pr-3">
                <Link
                  className="block truncate font-semibold text-slate hover:underline"
                  href={`/studio/affiliates/${a.id}`}
                >
                  <bdi>{a.name || "erased"}</bdi>
                </Link>
              </td>
              <td className="py-1.5">
                {affiliateStates[a.state]}
                <span className="block text-label text-soft">
                  {a.state === "active" && a.since ? `since ${day(a.since, zone)}` : day(a.endedAt ?? a.askedAt, zone)}
                </span>
              </td>
              <BroughtCells b={a} />
            </tr>
          ))}
        </Table>
      )}
      <Pager page={page} size={affiliatePage} shown={list.length} total={total} href={here} />
      {total ? (
        <p className="mt-3 max-w-3xl text-note text-soft">
          Net is what was paid without tax, of the sales of that time, with everything that has come of them since; left
          is what remains after refunds and commission.
        </p>
      ) : null}
    </>
  )
}
