import { affiliateHere, recommending } from "@/app/door"
import { handInBonus } from "@/server/affiliate/bonus"
import { storeMedia } from "@/server/media/store"

const largest = 20 * 1024 * 1024

/** A file that an affiliate hands in as a bonus. What it is is told by its content. */
export async function POST(request: Request): Promise<Response> {
  const a = await affiliateHere()
  const s = recommending(a)
  const asked = new URL(request.url).searchParams
  if (request.headers.get("sec-fetch-site") === "cross-site") return new Response("", { status: 403 })
  if (Number(request.headers.get("content-length") ?? 0) > largest)
    return Response.json({ refused: "That file is too large: at most 20 MB." }, { status: 413 })
  const bytes = Buffer.from(await request.arrayBuffer())
  if (bytes.length > largest)
    return Response.json({ refused: "That file is too large: at most 20 MB." }, { status: 413 })
  const stored = await storeMedia(s, "file", (asked.get("name") ?? "file").slice(0, 120), bytes)
  if (!("id" in stored)) return Response.json({ refused: stored.refused }, { status: 422 })
  const done = await handInBonus(s, a.id, Number(asked.get("programme")) || 0, stored.id)
  return "refused" in done ? Response.json(done, { status: 422 }) : Response.json({ ok: true })
}
