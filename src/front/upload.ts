// Uploads of the studio: the bytes of one file as the body, straight to the disk.
import type { IncomingMessage } from "node:http"
import { largest, type MediaKind, storeMedia, tooLarge } from "@/server/media/store"
import { sessionCookie, studioSessionOf } from "@/server/person/session"
import type { Answer, Request } from "./exchange"
import { commonHeaders } from "./policy"
import type { Front } from "./reply"

export const uploadPath = "studio/upload"

export async function takeUpload(front: Front, request: Request, body: IncomingMessage): Promise<Answer> {
  const { s } = front
  const token = request.cookies[sessionCookie(s.config, "studio")]
  if ((await studioSessionOf(s.db, token)) === null) return said(401, { refused: "Sign in again, please." })
  const { origin } = request.headers
  if (origin !== undefined && origin !== s.config.origin) return said(403, { refused: "This came from another site." })
  const kind = request.query.get("kind") as MediaKind
  if (!Object.hasOwn(largest, kind)) return said(400, { refused: "Choose a file." })
  if (Number(request.headers["content-length"] ?? 0) > largest[kind]) return said(413, { refused: tooLarge(kind) })
  const name = (request.query.get("name") ?? "").slice(0, 300)
  const stored = await storeMedia(s, kind, name, body)
  return "refused" in stored
    ? said(stored.refused === tooLarge(kind) ? 413 : 422, stored)
    : said(200, { id: stored.id, url: `/media/${stored.stored}`, name })
}

const said = (status: number, what: object): Answer => ({
  status,
  headers: { ...commonHeaders, "content-type": "application/json", "cache-control": "no-store" },
  body: JSON.stringify(what),
})
