import { studio } from "@/app/guard"
import { readWorn } from "@/core/look/look"
import { drawWorn } from "@/server/funnel/look-view"

/** One of the school's pages in a look that is being chosen: it runs nothing and leads nowhere. */
export async function GET(request: Request): Promise<Response> {
  const s = await studio()
  const asked = new URL(request.url).searchParams
  const html = await drawWorn(s, Number(asked.get("step")) || 0, readWorn(asked.get("worn") ?? ""))
  return new Response(html ?? "", {
    status: html === null ? 404 : 200,
    headers: {
      "content-type": "text/html; charset=utf-8",
      "cache-control": "no-store",
      "content-security-policy":
        "sandbox; default-src 'none'; style-src 'unsafe-inline'; img-src 'self'; font-src 'self'; media-src 'self'; frame-ancestors 'self'",
    },
  })
}
