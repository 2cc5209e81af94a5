import { studio } from "@/app/door"
import { mediaNames } from "@/server/media/media-view"
import { usesOf } from "@/server/reference"
import { Link } from "@/ui/link"
import { UsedIn } from "../../used-in"

export const metadata = { title: "Files" }

/** Every picture, video and file that was uploaded, and where each is used. */
export default async function FilesPage({ searchParams }: { searchParams: Promise<{ file?: string }> }) {
  const s = await studio()
  const media = await mediaNames(s.db, s.config)
  const asked = Number((await searchParams).file)
  const chosen = media.find((m) => m.id === asked)
  const uses = chosen ? await usesOf(s.db, "media", chosen.id) : []
  return (
    <>
      <h1 className="mt-4">Files</h1>
      <p className="mt-1 text-soft">Pictures, videos and files that were uploaded, the newest first.</p>
      {media.length === 0 ? <p className="mt-4">There is none yet. They are uploaded where they are shown.</p> : null}
      <ul className="mt-3">
        {media.map((m) => (
          <li key={m.id} className="border-t border-line py-1.5">
            <div className="flex gap-3">
              <Link
                className="min-w-0 flex-1 text-slate [overflow-wrap:anywhere] hover:underline"
                href={m === chosen ? "/studio/settings/files" : `/studio/settings/files?file=${m.id}`}
                aria-expanded={m === chosen}
              >
                {m.name}
              </Link>
              <span className="text-soft">{m.kind}</span>
            </div>
            {m === chosen ? <UsedIn uses={uses} /> : null}
          </li>
        ))}
      </ul>
    </>
  )
}
