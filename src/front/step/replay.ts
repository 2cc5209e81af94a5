// The replay page: for whoever has shown on this device to have had a seat, to the end that was told them.
import { type ReplayView, replayHtml } from "@/core/page/replay"
import { untilWords } from "@/core/webinar/until"
import { replayOf } from "@/core/webinar/webinar"
import { goOnFrom } from "@/server/funnel/webinar-ways"
import { checkoutPathOf } from "@/server/offer/link"
import { mediaLinkTo, noteOffer, roomOf } from "@/server/webinar/room"
import { seatDeadlines } from "@/server/webinar/until"
import { learnerAt } from "../buyer"
import type { HttpAnswer, Request } from "../exchange"
import type { LivePage } from "../live"
import { renderPage } from "../render-page"
import { type Front, redirect } from "../reply"
import { seatAt } from "../seat"
import { seatOffer } from "../seat-offer"
import { webinarAt } from "../webinar-page"
import { postJoin } from "./optin"
import type { FrontStep } from "./step"

export const replay: FrontStep = {
  post: postJoin,
  async look(front, req, page) {
    const webinar = webinarAt(page)
    const seat = webinar === null ? null : await seatAt(front, req, await learnerAt(front, req), webinar)
    const found = seat === null ? ({ is: "unknown" } as const) : await replayFor(front, req, page, seat)
    if ("status" in found) return found
    return renderPage(front, req, page, 200, { replay: () => replayHtml(found) })
  },
}

/** What somebody with a seat sees; or where they are led, once they press what it leads to or come too late. */
async function replayFor(front: Front, req: Request, page: LivePage, seat: number): Promise<ReplayView | HttpAnswer> {
  const { s } = front
  const room = await roomOf(s, seat)
  if (!room) return { is: "unknown" }
  const w = room.webinar
  const now = await s.clock.now()
  const place = { release: page.release, step: page.step }
  if (room.playing.phase !== "over") return { is: "before", starts: room.starts, zone: room.zone }
  const end = (await seatDeadlines(s.db, seat, now)).replay
  if (end === null) return { is: "missing" }
  const until = untilWords(end, room.zone)
  if (now >= end) {
    const next = await goOnFrom(s, place, room.person, "too-late")
    return next ? redirect(next) : { is: "over", until }
  }
  if (req.query.has("offer") && w.offer !== null) {
    await noteOffer(s.db, seat, "pressed", now)
    const next = await goOnFrom(s, place, room.person, "clicked")
    return redirect(next ?? `/${(await checkoutPathOf(s.db, w.offer, room.id)) ?? ""}`)
  }
  const plays = await mediaLinkTo(s, replayOf(w))
  if (!plays) return { is: "missing" }
  const offer = w.offer === null ? null : await seatOffer(front, seat, w.offer, `/${page.page.path}?offer=1`)
  return {
    is: "there",
    until,
    plays,
    captions: (await mediaLinkTo(s, w.captions))?.url ?? null,
    chapters: w.chapters,
    handout: await mediaLinkTo(s, w.handout),
    offer:
      offer === null ? null : { html: offer, at: w.offerMinute * 60, part: Math.min(1, w.offerMinute / w.minutes) },
  }
}
