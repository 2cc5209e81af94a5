// The webinar that a page is about, as it was when it was published.
import type { LivePage } from "./live"

/** Null where it is about none. */
export function webinarAt(page: LivePage): number | null {
  for (const p of page.page.pieces) if (typeof p === "object" && "part" in p && "webinar" in p) return p.webinar
  return null
}
