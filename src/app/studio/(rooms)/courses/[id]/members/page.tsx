import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { type Proportion, proportion } from "@/core/proportion"
import { locale } from "@/core/words/locale"
import { readCourse } from "@/server/course/course"
import { batchesLately, invitationLink } from "@/server/course/let-in"
import { lessonStops, listInvitations, listMembers, membersPage, whoIsNotIn } from "@/server/course/members"
import { waitingFor } from "@/server/course/waiting"
import { schoolZone } from "@/server/school-view"
import { Button } from "@/ui/button"
import { OnlyWith, SearchBox } from "@/ui/filter"
import { Link, TextLink } from "@/ui/link"
import { Pager } from "@/ui/pager"
import { Table } from "@/ui/table"
import { idOf } from "../../../asked"
import { aboutInvitation } from "../../../let-in/invitation-words"
import { Invitations } from "../../../let-in/invitations"
import { LetIn } from "../../../let-in/let-in"
import { day } from "../../../words"
import { NotInList } from "./not-in"
import { membersQuery } from "./query"
import { Waiting } from "./waiting"

export const metadata = { title: "Members" }

export default async function MembersPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>
  searchParams: Promise<Record<string, string | undefined>>
}) {
  const s = await studio()
  const id = idOf((await params).id)
  const asked = await searchParams
  const query = membersQuery(id, asked)
  const found = await readCourse(s.db, id)
  if (!found) notFound()
  const [{ members, total }, stops, invitations, notIn, batches, zone, waiting] = await Promise.all([
    listMembers(s, query),
    lessonStops(s.db, id),
    listInvitations(s, { course: id }),
    whoIsNotIn(s, id),
    batchesLately(s, { course: id }),
    schoolZone(s.db),
    waitingFor(s.db, id),
  ])
  const room = `/studio/courses/${id}/members`
  const link = (page: number) => {
    const next = new URLSearchParams()
    if (query.search) next.set("search", query.search)
    if (query.only) next.set("only", query.only)
    if (page) next.set("page", String(page + 1))
    return `${room}?${next}`
  }
  const filtered = query.search !== "" || query.only !== ""
  return (
    <div className="mt-4">
      <Waiting course={id} n={waiting} />
      <NotInList people={notIn.map((n) => ({ ...n, since: day(n.since, zone) }))} />
      <div className="flex flex-wrap items-end justify-between gap-3">
        <h2>
          Members <span className="font-sans text-base font-normal text-soft">{total.toLocaleString(locale)}</span>
        </h2>
        <a href="#let-in" className="mr-auto text-body text-slate hover:underline">
          Let people in, or invite them
        </a>
        <search>
          <form action={room} className="flex flex-wrap items-end gap-2">
            <SearchBox label="Search by name or address" placeholder="Name or address" value={query.search} />
            <OnlyWith
              name="only"
              label="Only those"
              any="Everybody"
              value={query.only}
              options={[
                { value: "in", says: "Who are in" },
                { value: "ended", says: "Whose access ended" },
              ]}
            />
            <Button type="submit">Search</Button>
            <a
              className="self-center text-body text-slate hover:underline"
              href={`${room}/members.csv?${new URLSearchParams({ search: query.search, only: query.only })}`}
            >
              CSV
            </a>
          </form>
        </search>
      </div>
      {members.length ? (
        <>
          <Table
            className="mt-3 min-w-[57rem] table-fixed"
            columns={[
              { says: "Name" },
              { says: "Since", wide: "w-32" },
              { says: "Let in by", wide: "w-56" },
              { says: "Done", wide: "w-24", right: true },
              { says: "Quizzes, hand-ins", wide: "w-44", right: true },
              { says: "Last here", wide: "w-32", right: true },
            ]}
          >
            {members.map((m) => (
              <tr key={m.person} className="border-b border-line">
                <td className="truncate py-1.5">
                  <Link href={`/studio/people/${m.person}`} className="font-semibold text-slate hover:underline">
                    <bdi>{m.name || m.email}</bdi>
                  </Link>
                </td>
                <td>{day(m.since, zone)}</td>
                <td className="truncate text-soft">
                  {m.origin}
                  {m.until ? `, until ${day(m.until, zone)}` : ""}
                </td>
                <td className="text-right">
                  {m.done} of {stops.length}
                </td>
                <td className="text-right">
                  {m.tried ? `${m.passed} of ${m.tried} passed` : ""}
                  {m.waiting ? (
                    <Link href={`/studio/courses/${id}/hand-ins`} className="block text-amber-text hover:underline">
                      {m.waiting === 1 ? "a hand-in waits" : `${m.waiting} hand-ins wait`}
                    </Link>
                  ) : null}
                </td>
                <td className="text-right text-soft">{m.last ? day(m.last, zone) : "not yet"}</td>
              </tr>
            ))}
          </Table>
          <Pager page={query.page} size={membersPage} shown={members.length} total={total} href={link} />
        </>
      ) : (
        <p className="mt-4">
          {filtered ? (
            <>
              Nobody fits that. <TextLink href={room}>Show everybody</TextLink>
            </>
          ) : (
            "Nobody is in yet. People come in through a funnel, by an invitation, or when you let them in below."
          )}
        </p>
      )}
      <div className="mt-8 grid grid-cols-1 gap-x-10 gap-y-8 border-t border-line pt-5 lg:grid-cols-2">
        <LetIn
          of={{ course: id }}
          modules={found.modules.map(({ id: m, title }) => ({ id: m, title }))}
          batches={batches.map((b) => ({ batch: b.batch, n: b.n, day: day(b.at, zone) }))}
        />
        <Invitations
          of={{ course: id }}
          modules={found.modules.map(({ id: m, title }) => ({ id: m, title }))}
          invitations={invitations.map((i) => ({
            id: i.id,
            name: i.name,
            link: invitationLink(s.config, i.id),
            about: aboutInvitation(i, zone),
          }))}
        />
      </div>
      <section aria-label="Where they stop" className="mt-8 border-t border-line pt-5">
        <h2>Where they stop</h2>
        <p className="text-soft">Of those who have opened a lesson, how many have done it, and how sure that is.</p>
        <Table
          className="mt-3 max-w-3xl"
          columns={[
            { says: "Lesson" },
            { says: "Opened", wide: "w-24", right: true },
            { says: "Done", wide: "w-24", right: true },
            { says: "Share", wide: "w-64", right: true },
          ]}
        >
          {stops.map((l) => (
            <tr key={l.id} className="border-b border-line">
              <td className="py-1.5 [overflow-wrap:anywhere]">{l.title}</td>
              <td className="text-right">{l.begun.toLocaleString(locale)}</td>
              <td className="text-right">{l.done.toLocaleString(locale)}</td>
              <td className="py-1.5 pl-6">{l.begun ? <Share share={proportion(l.done, l.begun)} /> : null}</td>
            </tr>
          ))}
        </Table>
      </section>
    </div>
  )
}

/** A share with the 95 % Wilson interval around it, on a scale from none to all. */
function Share({ share }: { share: Proportion }) {
  const percent = (v: number) => Math.round(100 * v)
  return (
    <div className="flex items-center gap-3">
      <span className="w-28 text-right text-note whitespace-nowrap">
        {percent(share.hits / share.of)} %{" "}
        <span className="text-soft">
          ({percent(share.low)} to {percent(share.high)})
        </span>
      </span>
      <svg viewBox="0 0 100 10" className="h-2.5 flex-1" preserveAspectRatio="none" aria-hidden="true">
        <rect width="100" height="10" fill="var(--line)" />
        <rect width={(100 * share.hits) / share.of} height="10" fill="var(--slate)" fillOpacity=".55" />
        <rect
          x={100 * share.low}
          y="3.5"
          width={Math.max(0.7, 100 * (share.high - share.low))}
          height="3"
          fill="var(--ink)"
        />
      </svg>
    </div>
  )
}
