// Until when the lower price that a visitor has is theirs: by their seat at a webinar, or by the coupon that they came with.
import { html } from "@/core/html"
import { couponRefusal } from "@/core/offer/coupon"
import { priceEndHtml } from "@/core/page/offer-parts"
import { untilWords } from "@/core/webinar/until"
import { couponByCode, couponUses, guessed, mayGuess } from "@/server/offer/coupon"
import { shelfOf } from "@/server/offer/quote"
import { schoolZone } from "@/server/school-view"
import { learnerAt } from "../buyer"
import { couponKept } from "../coupon"
import type { Request } from "../exchange"
import { type Front, visitorOf } from "../reply"
import { dealHere } from "../seat"
import type { PartMaker, PartOf } from "./part"

export const priceEnd: PartMaker<PartOf<"price-end">> = {
  async make(front, req, _, { offer }) {
    const deal = await dealHere(front, req, await learnerAt(front, req), offer)
    if (deal?.open) return priceEndHtml({ at: deal.until, says: untilWords(deal.until, deal.zone) })
    const until = await couponEnd(front, req, offer)
    if (until === null) return html``
    return priceEndHtml({ at: until, says: untilWords(until, await schoolZone(front.s.db)) })
  },
}

/** Until when the coupon of a visitor's link counts for an offer; null: they have none that does, or it has no end. */
async function couponEnd(front: Front, req: Request, offer: number): Promise<number | null> {
  const { db, clock } = front.s
  const typed = req.query.get("coupon") ?? couponKept(front, req)
  const who = { ip: req.ip, visitor: visitorOf(front, req).id }
  if (!typed || !(await mayGuess(db, who))) return null
  const coupon = await couponByCode(db, typed)
  if (!coupon) await guessed(db, who)
  const currency = (await shelfOf(db)).offers.get(offer)?.currency
  if (!coupon || !currency) return null
  const refused = couponRefusal(coupon, await couponUses(db, coupon.id, { visitor: who.visitor }), {
    at: await clock.now(),
    offers: [offer],
    currency,
    seatUntil: null,
  })
  return refused === null ? coupon.until : null
}
