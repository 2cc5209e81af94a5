// The page that shows somebody their seat: as theirs where this device has proved to be them, otherwise only that they are written to.
import { html } from "@/core/html"
import { seatHtml } from "@/core/page/dates"
import { roomPath } from "@/server/webinar/letter/seat"
import { latestSeat } from "@/server/webinar/seat"
import { learnerAt } from "../buyer"
import { renderPage } from "../render-page"
import { webinarAt } from "../webinar-page"
import { postJoin } from "./optin"
import type { FrontStep } from "./step"

export const confirmation: FrontStep = {
  post: postJoin,
  async look(front, req, page, visitor) {
    const { s } = front
    const proven = (await learnerAt(front, req))?.person ?? null
    const webinar = webinarAt(page)
    const theirs = webinar && proven !== null ? await latestSeat(s.db, webinar, { person: proven }) : undefined
    const seat = theirs ?? (webinar ? await latestSeat(s.db, webinar, { visitor: visitor.id }) : undefined)
    const room = theirs && roomPath(s.config, theirs.id)
    return renderPage(front, req, page, 200, {
      seat: () =>
        seat
          ? seatHtml({
              at: seat.starts,
              zone: seat.zone,
              minutes: seat.minutes,
              calledOff: seat.calledOff,
              theirs: room ? { room, calendar: `${room.replace("/room/", "/calendar/")}.ics` } : null,
            })
          : html``,
    })
  },
}
