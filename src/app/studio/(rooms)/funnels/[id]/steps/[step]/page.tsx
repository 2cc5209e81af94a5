import { notFound } from "next/navigation"
import { studio } from "@/app/door"
import { stepKinds } from "@/core/funnel/kinds"
import { loadFunnel } from "@/server/funnel/load"
import { previewContext } from "@/server/funnel/release"
import { readRiver } from "@/server/funnel/rollup"
import { mediaLink } from "@/server/media/store"
import { idOf } from "../../../../ids"
import { Editor } from "./editor"

type Params = { params: Promise<{ id: string; step: string }>; searchParams: Promise<{ block?: string }> }

export const metadata = { title: "Page" }

export default async function EditorPage({ params, searchParams }: Params) {
  const s = await studio()
  const { id, step } = await params
  const funnel = await loadFunnel(s.db, idOf(id))
  const found = funnel?.steps.find((x) => x.id === idOf(step))
  if (!funnel || !found?.page) notFound()
  const revision =
    (await s.db.row<{ revision: number }>("SELECT revision FROM step WHERE id = ?", [found.id]))?.revision ?? 1
  const context = await previewContext(s, funnel)
  const now = await s.clock.now()
  const river = await readRiver(s, funnel, { from: now - 21 * 86_400_000, to: now })
  const pictures = await s.db.rows<{ id: number; name: string; stored: string; width: number; height: number }>(
    "SELECT id, name, stored, width, height FROM media WHERE kind = 'picture' ORDER BY id DESC LIMIT 100",
  )
  const courses = await s.db.rows<{ id: number; title: string }>(
    "SELECT id, title FROM course ORDER BY title LIMIT 200",
  )
  const videos = await s.db.rows<{ id: number; name: string; stored: string; type: string }>(
    "SELECT id, name, stored, type FROM media WHERE kind = 'video' ORDER BY id DESC LIMIT 100",
  )
  const pages = funnel.steps.filter((x) => stepKinds[x.kind].page)
  const at = pages.findIndex((x) => x.id === found.id)
  const count = (x: number | undefined) => river.steps.find((r) => r.id === x)?.in ?? 0
  return (
    <Editor
      key={found.id}
      funnel={funnel}
      step={found}
      revision={revision}
      school={context.school}
      pictures={pictures.map((p) => ({
        id: p.id,
        name: p.name,
        url: `/media/${p.stored}`,
        width: p.width,
        height: p.height,
      }))}
      courses={courses}
      videos={videos.map((v) => ({
        id: v.id,
        name: v.name,
        type: v.type,
        url: mediaLink(s.config, v.stored, Date.now()),
      }))}
      offers={context.offers ?? {}}
      strip={pages.map((x) => ({ id: x.id, name: x.name, n: count(x.id) }))}
      at={at}
      firstBlock={(await searchParams).block ?? null}
    />
  )
}
