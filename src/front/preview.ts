// The picture by which a link to a published page is shown, where the page has none of its own: drawn once, and kept.
import { pairs } from "@/core/look/typeface"
import { keptSheet } from "@/server/draw/draw"
import type { HttpAnswer } from "./exchange"
import { commonHeaders } from "./policy"
import type { Front } from "./reply"

/** @param name release and step: "12-3.jpg" */
export async function preview(front: Front, name: string): Promise<HttpAnswer | undefined> {
  const [, release, step] = /^(\d{1,9})-(\d{1,9})\.jpg$/.exec(name) ?? []
  const page = step ? front.live.entry(Number(step)) : undefined
  if (!page || page.release !== Number(release)) return undefined
  const { name: school, look } = front.live.school()
  const { ground, ink, accent } = look.bands.plain
  const says = { title: page.title, school, typeface: pairs[look.pair].display, ground, ink, accent }
  const body = Buffer.from(await keptSheet(front.s.config, null, "preview", `page${page.step}`, says))
  return {
    status: 200,
    headers: { ...commonHeaders, "content-type": "image/jpeg", "cache-control": "public, max-age=86400" },
    body,
  }
}
