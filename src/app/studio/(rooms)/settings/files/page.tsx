import { studio } from "@/app/guard"
import { mediaNames } from "@/server/media/media-view"
import { Link } from "@/ui/link"

export const metadata = { title: "Files" }

/** Every picture, video and file that was uploaded. */
export default async function FilesPage() {
  const s = await studio()
  const media = await mediaNames(s.db, s.config)
  return (
    <>
      <h1 className="mt-4">Files</h1>
      <p className="mt-1 text-soft">Pictures, videos and files that were uploaded, the newest first.</p>
      {media.length === 0 ? <p className="mt-4">There is none yet. They are uploaded where they are shown.</p> : null}
      <ul className="mt-3">
        {media.map((m) => (
          <li key={m.id} className="flex gap-3 border-t border-line py-1.5">
            <Link
              className="min-w-0 flex-1 text-slate [overflow-wrap:anywhere] hover:underline"
              href={`/studio/settings/files/${m.id}`}
            >
              {m.name}
            </Link>
            <span className="text-soft">{m.kind}</span>
          </li>
        ))}
      </ul>
    </>
  )
}
