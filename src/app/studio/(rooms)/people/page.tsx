import { studio } from "@/app/guard"
import { locale } from "@/core/words/locale"
import { sourceText } from "@/core/words/source"
import { allTags, countPeople, listPeople, type PeopleQuery, pageSize } from "@/server/person/people"
import { namesOfSources } from "@/server/programme/sources"
import { schoolZone } from "@/server/school-view"
import { Button } from "@/ui/button"
import { OnlyWith, SearchBox } from "@/ui/filter"
import { Link, TextLink } from "@/ui/link"
import { Pager } from "@/ui/pager"
import { Table } from "@/ui/table"
import { pageOf } from "../asked"
import { PlaceTabs } from "../place-tabs"
import { day } from "../words"

export const metadata = { title: "People" }

type Asked = { search?: string; tag?: string; sort?: string; page?: string }

const columns = [
  ["name", "Name", ""],
  ["email", "E-mail address", "w-72"],
  ["joined", "Joined", "w-32"],
] as const

export default async function PeoplePage({ searchParams }: { searchParams: Promise<Asked> }) {
  const s = await studio()
  const asked = await searchParams
  const [sort, way] = (asked.sort ?? "joined-down").split("-")
  const query: PeopleQuery = {
    search: (asked.search ?? "").slice(0, 200),
    tag: Number(asked.tag) || null,
    sort: sort === "name" || sort === "email" ? sort : "joined",
    descending: way === "down",
    page: pageOf(asked.page),
  }
  const [people, total, tags, zone] = await Promise.all([
    listPeople(s.db, query),
    countPeople(s.db, query),
    allTags(s.db),
    schoolZone(s.db),
  ])
  const link = (change: Record<string, string | undefined>) => {
    const next = new URLSearchParams()
    for (const [k, v] of Object.entries({ ...asked, page: undefined, ...change })) if (v) next.set(k, v)
    return `/studio/people?${next}`
  }
  const filtered = query.search !== "" || query.tag !== null
  const names = await namesOfSources(
    s.db,
    people.map((p) => p.source),
  )
  return (
    <div className="mx-auto max-w-5xl pt-4">
      <div className="flex flex-wrap items-end justify-between gap-4">
        <h1>
          People{" "}
          <span className="font-sans text-base font-normal text-soft tabular-nums">{total.toLocaleString(locale)}</span>
        </h1>
        <search>
          <form action="/studio/people" className="flex flex-wrap items-end gap-2">
            {asked.sort ? <input type="hidden" name="sort" value={asked.sort} /> : null}
            <SearchBox label="Search by name or address" placeholder="Name or address" value={query.search} />
            <OnlyWith
              name="tag"
              label="Only with the tag"
              any="Any tag"
              value={query.tag}
              options={tags.map((t) => ({ value: t.id, says: t.name }))}
            />
            <Button type="submit">Search</Button>
          </form>
        </search>
      </div>
      <PlaceTabs of="people" className="mt-2" />
      {people.length === 0 ? (
        <p className="mt-8 text-lg">
          {filtered ? (
            <>
              Nobody fits that. <TextLink href="/studio/people">Show everyone</TextLink>
            </>
          ) : (
            <>
              Nobody is here yet. People come through a funnel:{" "}
              <TextLink href="/studio/funnels">look after yours</TextLink>, or bring those you know{" "}
              <TextLink href="/studio/people/import">from a file</TextLink>.
            </>
          )}
        </p>
      ) : (
        <>
          <Table
            className="mt-4 table-fixed min-w-[58rem]"
            columns={[
              ...columns.map(([key, says, wide]) => {
                const here = query.sort === key
                const up = here ? query.descending : key !== "joined"
                return {
                  key,
                  wide,
                  says: (
                    <Link href={link({ sort: `${key}-${up ? "up" : "down"}` })} className="hover:underline">
                      {says} {here ? (query.descending ? "↓" : "↑") : ""}
                    </Link>
                  ),
                  ...(here ? { sorted: query.descending ? ("descending" as const) : ("ascending" as const) } : {}),
                }
              }),
              { says: "Came from", wide: "w-44" },
              { says: "Tags", wide: "w-44" },
            ]}
          >
            {people.map((p) => (
              <tr key={p.id} className="border-b border-line">
                <td className="truncate py-1.5">
                  <Link href={`/studio/people/${p.id}`} className="font-semibold text-slate hover:underline">
                    <bdi>{p.name || "no name given"}</bdi>
                  </Link>
                </td>
                <td className="truncate">
                  {p.email}
                  {p.suppressed ? (
                    <span className="ml-2 text-fine text-dusk">
                      {p.suppressed === "left" ? "gets no mail" : "can't be reached"}
                    </span>
                  ) : null}
                </td>
                <td>{day(p.joined_at, zone)}</td>
                <td className="truncate text-soft">{sourceText(p.source, names)}</td>
                <td className="truncate text-soft">{p.tags.join(", ")}</td>
              </tr>
            ))}
          </Table>
          <Pager
            page={query.page}
            size={pageSize}
            shown={people.length}
            total={total}
            href={(page) => link({ page: page ? String(page + 1) : undefined })}
          />
        </>
      )}
    </div>
  )
}
