import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { hasPage } from "@/core/funnel/step/list"
import { courseNames } from "@/server/course/course-view"
import { pageRevision } from "@/server/funnel/funnel-view"
import { loadFunnel } from "@/server/funnel/load"
import { previewContext } from "@/server/funnel/release"
import { readRiver } from "@/server/funnel/rollup"
import { mediaNames } from "@/server/media/media-view"
import type { MediaKind } from "@/server/media/store"
import { keptHere } from "@/server/page/kept"
import { linkTargets } from "@/server/page/links"
import { segmentNames } from "@/server/person/segment-view"
import { idOf } from "../../../../asked"
import { StepEditor } from "./editor"

type Params = { params: Promise<{ id: string; step: string }>; searchParams: Promise<{ block?: string }> }

export const metadata = { title: "Page" }

export default async function EditorPage({ params, searchParams }: Params) {
  const s = await studio()
  const { id, step } = await params
  const funnel = await loadFunnel(s.db, idOf(id))
  const found = funnel?.steps.find((x) => x.id === idOf(step))
  if (!funnel || !found?.page) notFound()
  const revision = await pageRevision(s.db, found.id)
  const context = await previewContext(s, funnel)
  const now = await s.clock.now()
  const river = await readRiver(s, funnel, { from: now - 21 * 86_400_000, to: now })
  const media = await mediaNames(s.db, s.config)
  const of = (kind: MediaKind) => media.filter((m) => m.kind === kind)
  const pages = funnel.steps.filter((x) => hasPage(x.kind))
  const at = pages.findIndex((x) => x.id === found.id)
  const count = (x: number | undefined) => river.steps.find((r) => r.id === x)?.in ?? 0
  return (
    <StepEditor
      key={found.id}
      funnel={funnel}
      step={found}
      revision={revision}
      context={context}
      pictures={of("picture")}
      courses={await courseNames(s.db)}
      segments={await segmentNames(s.db)}
      videos={of("video")}
      host={new URL(s.config.origin).host}
      files={of("file")}
      strip={pages.map((x) => ({ id: x.id, name: x.name, n: count(x.id) }))}
      at={at}
      sections={await keptHere(s.db)}
      targets={await linkTargets(s.db)}
      firstBlock={(await searchParams).block?.split("-")[0] ?? null}
    />
  )
}
