// A registration page: its dates are made anew for each look, where the visitor's clock stands.

import { knownZone } from "@/core/calendar/zone"
import { datesHtml } from "@/core/page/dates"
import { parseAddress } from "@/core/person/address"
import { words } from "@/core/words/en"
import { schoolZone } from "@/server/school-view"
import { datesFor } from "@/server/webinar/offered"
import { learnerAt } from "../buyer"
import type { Request } from "../exchange"
import type { LivePage } from "../live"
import type { OwnParts } from "../part/list"
import { renderPage } from "../render-page"
import { type Front, isForged, type Visitor } from "../reply"
import { webinarAt } from "../webinar-page"
import { postJoin, typedIn } from "./optin"
import type { FrontStep } from "./step"

export const registration: FrontStep = {
  async look(front, req, page, visitor) {
    const who = await provenAt(front, req)
    const shown = dates(await choices(front, req, page, visitor), null, aboutOf(front, page))
    // Who pressed their link too late comes back here.
    const full = req.query.has("full") ? { error: words.webinar.full } : {}
    return renderPage(front, req, page, 200, shown, { ...(who ? { email: who.email, name: who.name } : {}), ...full })
  },
  async post(front, req, page, visitor, fields) {
    // What is refused is shown with the dates as they are now.
    const shown = dates(
      await choices(front, req, page, visitor, fields.zone),
      fields.date ?? null,
      aboutOf(front, page),
    )
    const again = (says: string) => renderPage(front, req, page, 422, shown, { error: says, ...typedIn(fields) })
    // Whoever types another address is somebody else, or wants to be written to there.
    const who = await provenAt(front, req)
    const same = who !== null && parseAddress(fields.email ?? "")?.canonical === who.canonical
    return postJoin(front, req, page, visitor, fields, again, same && !isForged(req) ? who.person : null)
  },
}

/** Whom this device has proved to be. */
async function provenAt(
  front: Front,
  req: Request,
): Promise<{ person: number; email: string; name: string; canonical: string } | null> {
  const who = await learnerAt(front, req)
  if (!who) return null
  const row = await front.s.db.row<{ person: number; email: string; name: string; canonical: string }>(
    "SELECT p.id AS person, p.email, p.name, a.canonical FROM person p JOIN address a ON a.person_id = p.id AND a.email = p.email WHERE p.id = ?",
    [who.person],
  )
  return row ?? null
}

type Choices = { readonly zone: string; readonly found: Awaited<ReturnType<typeof datesFor>> }

async function choices(
  front: Front,
  req: Request,
  page: LivePage,
  visitor: Visitor,
  typed: string | undefined = req.query.get("zone") ?? undefined,
): Promise<Choices> {
  const { s } = front
  const webinar = webinarAt(page) ?? 0
  const zone = knownZone(typed ?? "", "")
  const now = await s.clock.now()
  const where = zone || (await schoolZone(s.db))
  return { zone: where, found: await datesFor(s.db, webinar, { visitor: visitor.id, zone: where }, now) }
}

/** Where it is, and whose. */
const aboutOf = (front: Front, page: LivePage) => ({
  url: `${front.s.config.origin}/${page.page.path}`,
  school: front.live.school().name,
})

function dates({ zone, found }: Choices, chosen: string | null, about: ReturnType<typeof aboutOf>): OwnParts {
  return {
    dates: () =>
      datesHtml({
        dates: found?.dates ?? [],
        chosen,
        zone: found && found.w.when.kind !== "any-time" ? found.w.zone : zone,
        asks: found?.w.when.kind === "any-time",
        replayDays: found?.w.replayDays ?? null,
        ...(found && found.w.when.kind !== "any-time"
          ? { event: { name: found.w.title, about: found.w.promise, minutes: found.w.minutes, ...about } }
          : {}),
      }),
  }
}
