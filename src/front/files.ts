// Fonts and media, straight from the disk, with range requests (RFC 9110, 14) so that a video can be wound.
import { createReadStream } from "node:fs"
import { readFile } from "node:fs/promises"
import type { IncomingMessage, ServerResponse } from "node:http"
import { createRequire } from "node:module"
import { fontFile } from "@/core/look/typeface"
import type { Context } from "@/server/context"
import { findMedia, mayFetch, type Served } from "@/server/media/store"
import { commonHeaders } from "./policy"

const require = createRequire(import.meta.url)
const fonts = new Map<string, Promise<Buffer>>()

export async function serveFont(name: string, res: ServerResponse): Promise<boolean> {
  const file = fontFile(name)
  if (!file) return false
  let font = fonts.get(name)
  if (!font) {
    font = readFile(require.resolve(file))
    fonts.set(name, font)
  }
  const body = await font
  res.writeHead(200, {
    ...commonHeaders,
    "content-type": "font/woff2",
    "content-length": body.length,
    "cache-control": "public, max-age=31536000, immutable",
    "access-control-allow-origin": "*",
  })
  res.end(body)
  return true
}

/** Pictures that were asked for lately. What stands under their names never changes, so the database isn't asked again. */
const pictures = new Map<string, Served>()

function remember(stored: string, picture: Served): void {
  pictures.delete(stored)
  pictures.set(stored, picture)
  if (pictures.size > 2_000) pictures.delete(pictures.keys().next().value!)
}

export async function serveMedia(
  s: Context,
  req: IncomingMessage,
  res: ServerResponse,
  stored: string,
  key: string,
): Promise<boolean> {
  const avif = /image\/avif/.test(req.headers.accept ?? "")
  const form = `${stored} ${avif}`
  const media = pictures.get(form) ?? (await findMedia(s.db, s.config, stored, avif))
  if (media?.open && media.lasting && media.type.startsWith("image/")) remember(form, media)
  if (!media || (!media.open && !mayFetch(s.config, media.stored, key, Date.now()))) return false
  if (media.instead) {
    const location = `/media/${media.instead}${media.open ? "" : `?key=${encodeURIComponent(key)}`}`
    res.writeHead(302, { ...commonHeaders, location, "cache-control": "no-store" }).end()
    return true
  }
  const shown = /^(image|video|audio)\//.test(media.type)
  const headers: Record<string, string | number> = {
    ...commonHeaders,
    "content-type": media.type === "text/plain" ? "text/plain; charset=utf-8" : media.type,
    "accept-ranges": "bytes",
    "cache-control": !media.open
      ? "private, max-age=3600"
      : media.lasting
        ? "public, max-age=31536000, immutable"
        : "public, max-age=60",
    ...(media.type.startsWith("image/") ? { vary: "Accept" } : {}),
    "content-security-policy": "default-src 'none'; sandbox",
    "content-disposition": `${shown ? "inline" : "attachment"}; filename*=UTF-8''${encodeURIComponent(media.name).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16)}`)}`,
  }
  const range = byteRangeOf(req.headers.range, media.size)
  if (range === "unsatisfiable") {
    res.writeHead(416, { ...commonHeaders, "content-range": `bytes */${media.size}` }).end()
    return true
  }
  const { from, to } = range ?? { from: 0, to: media.size - 1 }
  if (range) headers["content-range"] = `bytes ${from}-${to}/${media.size}`
  headers["content-length"] = to - from + 1
  res.writeHead(range ? 206 : 200, headers)
  if (req.method === "HEAD" || media.size === 0) {
    res.end()
    return true
  }
  const stream = createReadStream(media.path, { start: from, end: to })
  stream.on("error", () => {
    pictures.delete(form)
    res.destroy()
  })
  res.on("close", () => stream.destroy())
  stream.pipe(res)
  return true
}

/**
 * One range of a file of `size` bytes; several at once are answered with the whole, as the standard allows. By hand, since the
 * parser of `send` takes bytes=5-2 for a range that can't be met, where the standard says that it is none (RFC 9110, 14.1.1).
 */
export function byteRangeOf(
  header: string | undefined,
  size: number,
): { from: number; to: number } | "unsatisfiable" | undefined {
  const asked = /^bytes=(\d*)-(\d*)$/.exec(header ?? "")
  if (!asked || (asked[1] === "" && asked[2] === "")) return undefined
  if (asked[1] === "") {
    const last = Number(asked[2])
    return last === 0 || size === 0 ? "unsatisfiable" : { from: Math.max(0, size - last), to: size - 1 }
  }
  const from = Number(asked[1])
  const to = asked[2] === "" ? size - 1 : Math.min(Number(asked[2]), size - 1)
  if (asked[2] !== "" && Number(asked[2]) < from) return undefined
  return from >= size ? "unsatisfiable" : { from, to }
}
