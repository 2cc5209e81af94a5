import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import type { Funnel, Step } from "@/core/funnel/draft"
import { refsOfFunnel } from "@/core/funnel/refs"
import { loadCourseCards } from "@/server/course/card"
import { courseNames } from "@/server/course/course-view"
import { previewContext } from "@/server/funnel/release"
import { mediaNames } from "@/server/media/media-view"
import type { MediaKind } from "@/server/media/store"
import { readSection } from "@/server/page/kept"
import { linkTargets } from "@/server/page/links"
import { segmentNames } from "@/server/person/segment-view"
import { usesOf } from "@/server/reference"
import { idOf } from "../../../asked"
import { UsedIn } from "../../../used-in"
import { SectionEditor } from "./editor"

export const metadata = { title: "Kept section" }

export default async function SectionPage({ params }: { params: Promise<{ section: string }> }) {
  const s = await studio()
  const section = await readSection(s.db, idOf((await params).section))
  if (!section) notFound()
  const uses = await usesOf(s.db, "kept_section", section.id)
  // It is drawn as a page of its own.
  const step: Step = { id: 0, kind: "sales", name: section.name, path: "", page: section.page, settings: {} }
  const alone: Funnel = {
    version: 2,
    id: 0,
    name: "",
    againAfter: null,
    steps: [step],
    streams: [],
    effects: [],
    sequences: [],
    courses: [],
  }
  const courses = await loadCourseCards(
    s.db,
    refsOfFunnel(alone).map((r) => r.ref),
  )
  const funnel = { ...alone, courses }
  const media = await mediaNames(s.db, s.config)
  const of = (kind: MediaKind) => media.filter((m) => m.kind === kind)
  return (
    <SectionEditor
      key={section.id}
      section={section}
      places={new Set(uses.map((u) => u.says)).size}
      funnel={funnel}
      step={step}
      context={await previewContext(s, funnel)}
      pictures={of("picture")}
      videos={of("video")}
      files={of("file")}
      courses={await courseNames(s.db)}
      segments={await segmentNames(s.db)}
      targets={await linkTargets(s.db)}
    >
      <UsedIn uses={uses} />
    </SectionEditor>
  )
}
