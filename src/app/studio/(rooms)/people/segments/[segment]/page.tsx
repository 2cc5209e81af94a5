import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { peopleSoon } from "@/server/person/count"
import { readSegment } from "@/server/person/segment"
import { segmentChoices } from "@/server/person/segment-view"
import { Back } from "@/ui/link"
import { idOf } from "../../../asked"
import { NamedSegmentEditor } from "./named-segment-editor"

export const metadata = { title: "Segment" }

export default async function SegmentPage({ params }: { params: Promise<{ segment: string }> }) {
  const s = await studio()
  const id = idOf((await params).segment)
  const segment = await readSegment(s.db, id)
  if (!segment) notFound()
  const choices = await segmentChoices(s.db)
  return (
    <div className="mx-auto max-w-6xl pt-2">
      <Back href="/studio/people/segments">Segments</Back>
      <h1 className="mt-1 truncate">{segment.value.name}</h1>
      <NamedSegmentEditor
        id={id}
        segment={segment}
        choices={{ ...choices, segments: choices.segments.filter((x) => x.id !== id) }}
        found={await peopleSoon(s, segment.value.question)}
      />
    </div>
  )
}
