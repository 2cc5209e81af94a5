import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { locale } from "@/core/words/locale"
import { batchesLately, invitationLink } from "@/server/course/let-in"
import { fileHolders, listInvitations } from "@/server/course/members"
import { makesFilms } from "@/server/media/film"
import { mediaNamed, narrowedOf } from "@/server/media/media-view"
import { usesOfMedia } from "@/server/media/place"
import { schoolZone } from "@/server/school-view"
import { Link, NameLink } from "@/ui/link"
import { Table } from "@/ui/table"
import { idOf } from "../../../asked"
import { aboutInvitation } from "../../../let-in/invitation-words"
import { Invitations } from "../../../let-in/invitations"
import { LetIn } from "../../../let-in/let-in"
import { UsedIn } from "../../../used-in"
import { day } from "../../../words"
import { aboutWidths } from "../words"
import { AboutMedia } from "./about"
import { PicturePlace } from "./picture"

export const metadata = { title: "Media" }

/** One picture, video or file: what it shows, where it is used, another in its place; of a file also who has it. */
export default async function MediumPage({ params }: { params: Promise<{ media: string }> }) {
  const s = await studio()
  const id = idOf((await params).media)
  const file = await mediaNamed(s.db, s.config, id)
  if (!file) notFound()
  const of = { media: id }
  const uses = await usesOfMedia(s.db, id)
  const zone = await schoolZone(s.db)
  const { holders, total } = await fileHolders(s, id)
  const [invitations, batches] = [await listInvitations(s, of), await batchesLately(s, of)]
  return (
    <div className="wide">
      <p className="mt-3 text-note">
        <NameLink href="/studio/settings/media">‹ Media</NameLink>
      </p>
      <h1 className="mt-1 [overflow-wrap:anywhere]">{file.name}</h1>
      <div className="mt-3 grid grid-cols-1 gap-x-8 gap-y-6 lg:grid-cols-[minmax(0,1.3fr)_minmax(0,1fr)]">
        <div>
          {file.kind === "picture" ? (
            <PicturePlace
              key={file.url}
              id={id}
              url={file.url}
              focus={file.focus ?? [50, 50]}
              width={file.width}
              height={file.height}
            />
          ) : (
            <>
              {file.kind === "video" ? (
                <>
                  <video src={file.url} controls preload="none" className="aspect-video w-full rounded-md bg-ink" />
                  <p className="mt-1 text-note text-soft">
                    {aboutWidths(await narrowedOf(s.db, id), await makesFilms(s))}
                  </p>
                </>
              ) : null}
              <p className="mt-1">
                <a className="text-slate underline" href={file.url}>
                  Open it
                </a>
              </p>
            </>
          )}
          <UsedIn uses={uses} />
        </div>
        <div>
          <AboutMedia
            key={file.name + file.alt}
            id={id}
            kind={file.kind}
            name={file.name}
            alt={file.alt}
            used={uses.length > 0}
          />
        </div>
      </div>
      {file.kind === "file" ? (
        <>
          <div className="mt-6 flex flex-wrap items-baseline gap-x-4">
            <h2>
              Who has it{" "}
              <span className="font-sans text-base font-normal text-soft">{total.toLocaleString(locale)}</span>
            </h2>
            <a href="#let-in" className="text-body text-slate hover:underline">
              Let people have it, or invite them
            </a>
          </div>
          {holders.length ? (
            <Table
              className="mt-2 min-w-[34rem] table-fixed"
              columns={[{ says: "Name" }, { says: "Since", wide: "w-32" }, { says: "Let in by", wide: "w-56" }]}
            >
              {holders.map((h) => (
                <tr key={h.id} className="border-b border-line">
                  <td className="truncate py-1.5">
                    <Link href={`/studio/people/${h.person}`} className="font-semibold text-slate hover:underline">
                      {h.name || h.email}
                    </Link>
                  </td>
                  <td>{day(h.since, zone)}</td>
                  <td className="truncate text-soft">
                    {h.origin}
                    {h.until ? `, until ${day(h.until, zone)}` : ""}
                  </td>
                </tr>
              ))}
            </Table>
          ) : (
            <p className="mt-1 text-soft">
              Nobody has it by itself yet. Whoever is in a lesson with it finds it there.
            </p>
          )}
          {total > holders.length ? <p className="mt-1 text-soft">The latest {holders.length} are shown.</p> : null}
          <div className="mt-8 grid grid-cols-1 gap-x-10 gap-y-8 border-t border-line pt-5 lg:grid-cols-2">
            <LetIn
              of={of}
              modules={[]}
              batches={batches.map((b) => ({ batch: b.batch, n: b.n, day: day(b.at, zone) }))}
            />
            <Invitations
              of={of}
              modules={[]}
              invitations={invitations.map((i) => ({
                id: i.id,
                name: i.name,
                link: invitationLink(s.config, i.id),
                about: aboutInvitation(i, zone),
              }))}
            />
          </div>
        </>
      ) : null}
    </div>
  )
}
