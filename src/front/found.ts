// What search engines ask for: where they may look, and what there is to be found.
import { escapeHtml } from "@/core/html"
import type { HttpAnswer } from "./exchange"
import { commonHeaders } from "./policy"
import type { Front } from "./reply"

const file = (type: string, body: string): HttpAnswer => ({
  status: 200,
  headers: { ...commonHeaders, "content-type": `${type}; charset=utf-8`, "cache-control": "public, max-age=300" },
  body,
})

/** Pages are for everybody; what belongs to somebody, or to the school alone, isn't (RFC 9309). */
export function robots(front: Front): HttpAnswer {
  const own = ["/studio", "/learn/", "/affiliate", "/order", "/room", "/go", "/standins"]
  return file(
    "text/plain",
    `User-agent: *\n${own.map((p) => `Disallow: ${p}\n`).join("")}\nSitemap: ${front.s.config.origin}/sitemap.xml\n`,
  )
}

/** Every page to which people come from outside (sitemaps.org, 0.9). */
export function sitemap(front: Front): HttpAnswer {
  const places = ["", ...front.live.entries(), ...(front.live.school().legal ?? [])].map(
    (path) => `<url><loc>${escapeHtml(`${front.s.config.origin}/${encodeURI(path)}`)}</loc></url>`,
  )
  return file(
    "application/xml",
    `<?xml version="1.0" encoding="UTF-8"?><urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">${places.join("")}</urlset>`,
  )
}
