// Uploads of the studio: the bytes of one file as the body, so that a large one needs no form around it.
import { studio } from "@/app/door"
import { largest, type MediaKind, storeMedia } from "@/server/media/store"

export async function POST(request: Request): Promise<Response> {
  const s = await studio()
  const origin = request.headers.get("origin")
  if (origin !== null && origin !== s.config.origin)
    return Response.json({ refused: "This came from another site." }, { status: 403 })
  const query = new URL(request.url).searchParams
  const kind = query.get("kind") as MediaKind
  if (!Object.hasOwn(largest, kind)) return Response.json({ refused: "Choose a file." }, { status: 400 })
  const most = largest[kind]
  const tooLarge = () =>
    Response.json({ refused: `That is too large: a ${kind} may have ${Math.round(most / 1e6)} MB.` }, { status: 413 })
  if (Number(request.headers.get("content-length") ?? 0) > most) return tooLarge()
  const chunks: Uint8Array[] = []
  let size = 0
  for await (const chunk of (request.body ?? []) as unknown as AsyncIterable<Uint8Array>) {
    size += chunk.length
    if (size > most) return tooLarge()
    chunks.push(chunk)
  }
  const name = (query.get("name") ?? "").slice(0, 300)
  const stored = await storeMedia(s, kind, name, Buffer.concat(chunks))
  if ("refused" in stored) return Response.json(stored, { status: 422 })
  return Response.json({ id: stored.id, url: `/media/${stored.stored}`, name })
}
