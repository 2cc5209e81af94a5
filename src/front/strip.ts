// A line above a published page for this visitor alone: who recommended it, or why they were led here.

import { brotliCompressSync, constants, gzipSync } from "node:zlib"
import type { Html } from "@/core/html"
import { encodingFor, type HttpAnswer, type Request } from "./exchange"
import type { LivePage } from "./live"

/** A page as it is without a strip, made only where it goes out so, and the cookies that go with it either way. */
export type PageLook = { readonly plain: () => HttpAnswer; readonly cookies: readonly string[] }

export const cookied = (answer: HttpAnswer, cookies: readonly string[]): HttpAnswer =>
  cookies.length ? { ...answer, headers: { ...answer.headers, "set-cookie": [...cookies] } } : answer

/** Finished pages with a strip, by page, strip and encoding: made once, the latest kept. */
const stripped = new Map<string, { readonly headers: HttpAnswer["headers"]; readonly body: Buffer }>()
const mostStripped = 400

const put = (page: string, strip: Html) => page.replace(/<main[^>]*>/, (main) => main + strip)

/** The page with a strip: not kept by browsers, since it is another once the mention counts no longer. */
export function withStrip(req: Request, page: LivePage, look: PageLook, strip: Html): HttpAnswer {
  if (page.dynamic) {
    const answer = cookied(look.plain(), look.cookies)
    return typeof answer.body === "string" && answer.body ? { ...answer, body: put(answer.body, strip) } : answer
  }
  const encoding = encodingFor(req.headers["accept-encoding"])
  const key = `${page.etag}:${encoding}:${strip}`
  let made = stripped.get(key)
  if (!made) {
    const html = Buffer.from(put(page.bodies.identity.toString("utf8"), strip))
    const body =
      encoding === "br"
        ? brotliCompressSync(html, { params: { [constants.BROTLI_PARAM_QUALITY]: 5 } })
        : encoding === "gzip"
          ? gzipSync(html, { level: 6 })
          : html
    const { etag: _, ...headers } = page.headers[encoding]
    made = { headers: { ...headers, "cache-control": "no-store", "content-length": String(body.length) }, body }
    if (stripped.size >= mostStripped) stripped.delete(stripped.keys().next().value!)
    stripped.set(key, made)
  }
  return cookied({ status: 200, headers: made.headers, body: made.body }, look.cookies)
}
