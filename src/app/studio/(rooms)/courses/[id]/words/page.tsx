import { studio } from "@/app/guard"
import { quotesOfCourse } from "@/server/course/quote"
import { mediaNames } from "@/server/media/media-view"
import { schoolZone } from "@/server/school-view"
import { idOf } from "../../../asked"
import { studioMoment } from "../../../words"
import { QuoteList } from "./quote-list"

export const metadata = { title: "Words" }

export default async function WordsPage({ params }: { params: Promise<{ id: string }> }) {
  const s = await studio()
  const course = idOf((await params).id)
  const zone = await schoolZone(s.db)
  const quotes = await quotesOfCourse(s.db, course)
  const media = await mediaNames(s.db, s.config)
  return (
    <div className="mt-4 max-w-3xl">
      <p className="text-soft">
        What learners say of it, and agreed to have shown. They are asked by the block “ask for their words” in a
        lesson. Pages show what is chosen here, at once.
      </p>
      <QuoteList
        course={course}
        quotes={quotes.map((q) => ({ ...q, at: studioMoment(q.at, zone) }))}
        media={media.filter((m) => m.kind === "picture")}
      />
    </div>
  )
}
