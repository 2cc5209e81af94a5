// The seat at a webinar that a device has shown to have: by its room, by a link of an e-mail to whoever has it, or by being signed in.
import { type Learner, seatCookie } from "@/server/person/session"
import { sign, verify } from "@/server/sign"
import { type Deal, dealOf, seatsOf } from "@/server/webinar/until"
import type { Request } from "./exchange"
import { cookieText, type Front } from "./reply"

/** How long a device is known by a seat, seconds. */
const known = 90 * 86_400

/** How many seats a device is known by, those it showed last. */
const most = 5

/** Set wherever somebody's own link brought this device here; what it had shown before stays. */
export function seatedCookie(front: Front, req: Request, seats: readonly number[]): string {
  const { config } = front.s
  const all = [...new Set([...seats, ...shownBefore(front, req)])].slice(0, most)
  return cookieText(config, seatCookie(config), sign(config.secret, "seated", all.join("-")), known)
}

function shownBefore(front: Front, req: Request): number[] {
  const { config } = front.s
  const text = verify(config.secret, "seated", req.cookies[seatCookie(config)] ?? "")
  return text && /^\d{1,10}(-\d{1,10})*$/.test(text) ? text.split("-").map(Number) : []
}

/** The seats that this device has shown, the likeliest first. */
async function seatsHere(front: Front, req: Request, who: Learner | null, webinar?: number): Promise<number[]> {
  const theirs = who ? await seatsOf(front.s.db, who.person, webinar) : []
  return [...new Set([...theirs, ...shownBefore(front, req)])]
}

/** What a seat of whoever is here gives for an offer; null: nothing. */
export async function dealHere(front: Front, req: Request, who: Learner | null, offer: number): Promise<Deal | null> {
  const now = await front.s.clock.now()
  let over: Deal | null = null
  for (const seat of await seatsHere(front, req, who)) {
    const deal = await dealOf(front.s.db, seat, offer, now)
    if (deal?.open) return deal
    over ??= deal
  }
  return over
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
