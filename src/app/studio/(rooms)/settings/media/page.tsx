import { studio } from "@/app/guard"
import { narrowed, narrower } from "@/core/page/picture"
import { locale } from "@/core/words/locale"
import { listMedia, mediaPerPage } from "@/server/media/place"
import type { MediaKind } from "@/server/media/store"
import { Button } from "@/ui/button"
import { OnlyWith, SearchBox } from "@/ui/filter"
import { Link } from "@/ui/link"
import { Pager } from "@/ui/pager"
import { pageOf } from "../../asked"
import { Bring } from "./bring"
import { aboutMedia, endingOf, kindNames } from "./words"

export const metadata = { title: "Media" }

type Asked = { readonly search?: string; readonly kind?: string; readonly used?: string; readonly page?: string }

/** Every picture, video and file that was uploaded: found, and brought here. */
export default async function MediaPage({ searchParams }: { searchParams: Promise<Asked> }) {
  const s = await studio()
  const asked = await searchParams
  const search = (asked.search ?? "").slice(0, 100)
  const kind = Object.hasOwn(kindNames, asked.kind ?? "") ? (asked.kind as MediaKind) : null
  const unused = asked.used === "no"
  const page = pageOf(asked.page)
  const { shown, total } = await listMedia(s, { search, kind, unused, page })
  const filtered = search !== "" || kind !== null || unused
  const here = (n: number) =>
    `/studio/settings/media?${new URLSearchParams(Object.entries({ ...asked, page: String(n + 1) }).flatMap(([k, v]) => (v ? [[k, v]] : [])))}`
  return (
    <div className="wide">
      <h1 className="mt-4">
        Media{" "}
        <span className="font-sans text-base font-normal text-soft tabular-nums">{total.toLocaleString(locale)}</span>
      </h1>
      <Bring />
      <form className="mt-4 flex flex-wrap items-center gap-2">
        <SearchBox label="Search media" placeholder="Name or description" value={search} />
        <OnlyWith
          name="kind"
          label="Kind"
          any="All kinds"
          value={kind}
          options={Object.entries(kindNames).map(([value, says]) => ({ value, says }))}
        />
        <OnlyWith
          name="used"
          label="Use"
          any="Used or not"
          value={unused ? "no" : null}
          options={[{ value: "no", says: "Not used" }]}
        />
        <Button type="submit">Show</Button>
      </form>
      {shown.length === 0 ? (
        <p className="mt-6">
          {filtered ? "Nothing here is like that." : "Nothing has been uploaded yet. Drop the first picture above."}
        </p>
      ) : null}
      <ul className="mt-4 grid grid-cols-2 gap-x-4 gap-y-5 sm:grid-cols-3 lg:grid-cols-4 xl:grid-cols-6">
        {shown.map((m) => (
          <li key={m.id} className="relative min-w-0">
            {m.kind === "picture" ? (
              <img
                src={m.width > narrower[0] ? narrowed(m.url, narrower[0]) : m.url}
                alt=""
                loading="lazy"
                className="aspect-[4/3] w-full rounded-md border border-line bg-shallow object-contain"
              />
            ) : (
              <div className="grid aspect-[4/3] w-full place-items-center rounded-md border border-line bg-shallow text-soft">
                {endingOf(m.name)}
              </div>
            )}
            <p className="mt-1.5 truncate leading-snug">
              <Link
                href={`/studio/settings/media/${m.id}`}
                className="font-semibold text-slate after:absolute after:inset-0 hover:underline"
              >
                {m.name}
              </Link>
            </p>
            <p className="text-note text-soft">
              {aboutMedia(m)}
              {m.used ? "" : " · not used"}
              {m.kind === "picture" && !m.alt && m.used ? " · not described" : ""}
            </p>
          </li>
        ))}
      </ul>
      <Pager page={page} size={mediaPerPage} shown={shown.length} total={total} href={here} />
    </div>
  )
}
