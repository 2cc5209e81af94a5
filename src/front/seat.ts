// The seat at a webinar that a device has shown to have: by its room, by a link of an e-mail to whoever has it, or by being signed in.
import { type Learner, seatCookie } from "@/server/person/session"
import { sign, verifyId } from "@/server/sign"
import { type Deal, dealOf, seatOf } from "@/server/webinar/until"
import type { Request } from "./exchange"
import { cookieText, type Front } from "./reply"

/** How long a device is known by a seat, seconds. */
const known = 90 * 86_400

/** Set wherever somebody's own link brought this device here. */
export const seatedCookie = (front: Front, registration: number): string =>
  cookieText(
    front.s.config,
    seatCookie(front.s.config),
    sign(front.s.config.secret, "seated", String(registration)),
    known,
  )

/** The seats that this device has shown, the likeliest first. */
async function seatsHere(front: Front, req: Request, who: Learner | null, webinar?: number): Promise<number[]> {
  const { db, config } = front.s
  const cookie = verifyId(config.secret, "seated", req.cookies[seatCookie(config)] ?? "")
  const theirs = who?.scope === null ? await seatOf(db, who.person, webinar) : undefined
  return [theirs, cookie].filter((id) => id != null)
}

/** What a seat of whoever is here gives for an offer; null: nothing. */
export async function dealHere(front: Front, req: Request, who: Learner | null, offer: number): Promise<Deal | null> {
  const now = await front.s.clock.now()
  for (const seat of await seatsHere(front, req, who)) {
    const deal = await dealOf(front.s.db, seat, offer, now)
    if (deal) return deal
  }
  return null
}

/** The seat of whoever is here at a webinar; null: none is known on this device. */
export async function seatAt(front: Front, req: Request, who: Learner | null, webinar: number): Promise<number | null> {
  for (const seat of await seatsHere(front, req, who, webinar))
    if (
      await front.s.db.row("SELECT 1 FROM registration WHERE id = ? AND webinar_id = ? AND state = 'registered'", [
        seat,
        webinar,
      ])
    )
      return seat
  return null
}
