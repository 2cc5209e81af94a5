import { studio } from "@/app/guard"
import { listHandIns } from "@/server/course/hand-in"
import { mediaLink } from "@/server/media/store"
import { schoolZone } from "@/server/school-view"
import { idOf } from "../../../asked"
import { studioMoment } from "../../../words"
import { HandInList } from "./hand-in-list"

export const metadata = { title: "Hand-ins" }

export default async function HandInsPage({ params }: { params: Promise<{ id: string }> }) {
  const s = await studio()
  const zone = await schoolZone(s.db)
  const all = await listHandIns(s.db, idOf((await params).id))
  return (
    <div className="mt-4 max-w-3xl">
      {all.length ? (
        <HandInList
          all={all.map((h) => ({
            ...h,
            at: studioMoment(h.at, zone),
            file: h.file && { name: h.file.name, link: mediaLink(s.config, h.file.stored, Date.now()) },
          }))}
        />
      ) : (
        <p className="text-soft">Nothing has been handed in. An assignment is a part that you add to a lesson.</p>
      )}
    </div>
  )
}
