// The checkout as a visitor meets it: its form, what the choice comes to, and the order placed.

import { randomBytes } from "node:crypto"
import { amountText } from "@/core/offer/amount"
import { isPosted } from "@/core/offer/gift/list"
import { moneyShort, moneyText } from "@/core/offer/money"
import { giftsOf, isFree } from "@/core/offer/offer"
import { sentence } from "@/core/offer/sentence"
import { type CheckoutView, checkoutHtml, type SumView, sumHtml } from "@/core/page/selling"
import { parseAddress } from "@/core/person/address"
import { connectionOf } from "@/core/person/connection"
import { untilWords } from "@/core/webinar/until"
import { words } from "@/core/words/en"
import { mayTry } from "@/server/attempt"
import { orderByCode } from "@/server/ledger/order"
import {
  type Buyer,
  type CheckoutForm,
  type CheckoutPlace,
  checkoutIn,
  checkoutOfForm,
  choiceOf,
  justBought,
  noteBegun,
  placeOrder,
} from "@/server/ledger/place"
import { guessed, mayGuess } from "@/server/offer/coupon"
import { ownedOffers } from "@/server/offer/owned"
import { type Quote, quote, type Shelf, shelfOf } from "@/server/offer/quote"
import { cardOf } from "@/server/offer/shown"
import type { Learner } from "@/server/person/session"
import { releaseById } from "@/server/releases"
import type { Deal } from "@/server/webinar/until"
import { learnerAt, opensAt } from "../buyer"
import { couponKept, withCoupon } from "../coupon"
import type { HttpAnswer, Request } from "../exchange"
import type { LivePage } from "../live"
import { commonHeaders } from "../policy"
import { renderPage } from "../render-page"
import { cameFrom, type Front, isForged, plainAnswer, redirect, type Visitor } from "../reply"
import { dealHere } from "../seat"
import type { FrontStep } from "./step"

export const checkout: FrontStep = {
  look: (front, req, page, visitor) => showCheckout(front, req, page, visitor, null),
  post: (front, req, page, visitor, fields) =>
    isForged(req) ? Promise.resolve(undefined) : postCheckout(front, req, page, visitor, fields),
}

type Typed = Pick<CheckoutForm, "email" | "name" | "postal" | "terms" | "bumps" | "code" | "consent" | "again">

const nothingTyped: Typed = {
  email: "",
  name: "",
  postal: "",
  terms: null,
  bumps: [],
  code: "",
  consent: false,
  again: false,
}

async function showCheckout(
  front: Front,
  req: Request,
  page: LivePage,
  visitor: Visitor,
  wrong: { typed: Typed; says: string | null; once: string } | null,
): Promise<HttpAnswer | undefined> {
  const { s } = front
  const release = await releaseById(s.db, page.release)
  const place = release && checkoutIn(release, page.page.path)
  if (!place) return undefined
  const who = await learnerAt(front, req)
  const deal = await dealHere(front, req, who, place.offer)
  const code = req.query.get("coupon") ?? (deal?.open ? deal.code : couponKept(front, req))
  const tried = wrong ? null : await refusedOrder(front, req, visitor)
  const typed: Typed = wrong?.typed ?? tried?.typed ?? { ...nothingTyped, code: code.slice(0, 60) }
  const at = await s.clock.now()
  const shelf = await shelfOf(s.db)
  const chosen = await chosenQuote(front, place, typed, shelf, at, { ip: req.ip, visitor: visitor.id }, who, deal)
  if (!chosen) return plainAnswer(front, 410, { title: words.offer.gone, paragraphs: [] })
  const main = cardOf(shelf, shelf.offers.get(place.offer)!, at)
  const view: CheckoutView = {
    action: `/${page.page.path}`,
    once: wrong?.once ?? tried?.once ?? randomBytes(18).toString("base64url"),
    release: page.release,
    cards: mayNeedCard(place, shelf) ? (s.cards?.origin ?? null) : null,
    test: s.config.mode === "own" && s.cards?.test === true,
    error: wrong?.says ?? tried?.says ?? null,
    email: typed.email,
    askName: place.block.askName,
    name: typed.name,
    askPostal: postalAsked(place, shelf),
    postal: typed.postal,
    askCode: place.block.askCoupon,
    code: typed.code,
    consent: place.block.consent,
    agreed: typed.consent,
    bought: main,
    terms: main.ways,
    chosen: chosen.lines[0]!.terms.id,
    bumps: place.block.bumps.flatMap((b) => {
      const offer = shelf.offers.get(b.offer)
      const card = offer && cardOf(shelf, offer, at)
      return card?.open
        ? [
            {
              id: b.offer,
              says: b.says,
              name: card.name,
              price: card.ways[0]?.says ?? "",
              picture: card.picture,
              picked: typed.bumps.includes(b.offer),
            },
          ]
        : []
    }),
    sum: sumOf(place, chosen, shelf, typed.again, await waysOf(front, place, typed, chosen, shelf, at, deal), deal),
    has: await hasAlready(front, place, shelf, at, who, visitor),
  }
  const answer = await renderPage(front, req, page, wrong ? 422 : 200, { checkout: () => checkoutHtml(view) })
  return withCoupon(front, req, answer)
}

/** The order of this device that the card refused, to be tried again with what was typed. */
async function refusedOrder(
  front: Front,
  req: Request,
  visitor: Visitor,
): Promise<{ typed: Typed; says: string; once: string } | null> {
  const code = req.query.get("order") ?? ""
  const order = code ? await orderByCode(front.s.db, code) : undefined
  if (order?.state !== "refused" || !order.visitor.equals(visitor.id)) return null
  const more = await front.s.db.row<{ once: string; postal: string; code: string | null; reason: string | null }>(
    "SELECT o.once, o.postal, k.code, (SELECT reason FROM charge c WHERE c.order_id = o.id ORDER BY c.id DESC LIMIT 1) AS reason FROM orders o LEFT JOIN coupon k ON k.id = o.coupon_id WHERE o.id = ?",
    [order.id],
  )
  const lines = await front.s.db.rows<{ offer_id: number; role: string }>(
    "SELECT offer_id, role FROM order_line WHERE order_id = ?",
    [order.id],
  )
  const reason = (more?.reason ?? "refused") as keyof typeof words.checkout.refused
  return {
    once: more?.once ?? "",
    says: words.checkout.refused[reason] ?? words.checkout.refused.refused,
    typed: {
      email: order.email,
      name: order.name,
      postal: more?.postal ?? "",
      terms: null,
      bumps: lines.filter((l) => l.role === "bump").map((l) => l.offer_id),
      code: more?.code ?? "",
      consent: order.wording !== "",
      again: false,
    },
  }
}

/**
 * What the choice comes to. How often an address has used a coupon is counted only for whoever has proved to be them; whoever
 * tried too many codes that aren't known has none looked up for a while.
 */
async function chosenQuote(
  front: Front,
  place: CheckoutPlace,
  typed: Typed,
  shelf: Shelf,
  at: number,
  from: Pick<Buyer, "ip" | "visitor">,
  who: Learner | null,
  deal: Deal | null,
): Promise<Quote | null> {
  const { db } = front.s
  const code = typed.code.trim() !== ""
  const may = !code || (await mayGuess(db, from))
  const proved = await provedAddress(front, typed.email, who)
  const choice = choiceOf(place, may ? typed : { ...typed, code: "" }, proved, deal?.registration)
  const q = await quote(db, shelf, choice, at)
  if (q?.couponRefusal === "unknown") await guessed(db, from)
  return q && !may ? { ...q, couponSays: words.coupon.tooMany } : q
}

/** The typed address where it is one of whoever is signed in here with all they have. */
async function provedAddress(front: Front, email: string, who: Learner | null): Promise<string | null> {
  const canonical = parseAddress(email)?.canonical
  if (!canonical || !who) return null
  const theirs = await front.s.db.row("SELECT 1 FROM address WHERE canonical = ? AND person_id = ?", [
    canonical,
    who.person,
  ])
  return theirs ? canonical : null
}

function mayNeedCard(place: CheckoutPlace, shelf: Shelf): boolean {
  return [place.offer, ...place.block.bumps.map((b) => b.offer)].some((id) => {
    const offer = shelf.offers.get(id)
    return offer !== undefined && !isFree(offer)
  })
}

function postalAsked(place: CheckoutPlace, shelf: Shelf): boolean {
  return [place.offer, ...place.block.bumps.map((b) => b.offer)].some((id) => {
    const offer = shelf.offers.get(id)
    return offer !== undefined && giftsOf(offer, shelf.offers).some((g) => isPosted(g))
  })
}

/**
 * Each way to pay and each bump in a sentence, with the coupon where it counts, so that what is chosen between and what is
 * paid agree.
 */
async function waysOf(
  front: Front,
  place: CheckoutPlace,
  typed: Typed,
  q: Quote,
  shelf: Shelf,
  at: number,
  deal: Deal | null,
) {
  const ways: Record<string, string> = {}
  if (!q.coupon) return ways
  const { db } = front.s
  const seat = deal?.registration
  for (const t of shelf.offers.get(place.offer)?.terms ?? []) {
    const with_ = await quote(db, shelf, choiceOf(place, { ...typed, terms: t.id }, null, seat), at)
    if (!with_) continue
    const { plan } = with_.lines[0]!
    ways[`terms${t.id}`] = sentence([plan])
    ways[`amount-terms${t.id}`] = amountText(plan)
  }
  for (const b of place.block.bumps) {
    const with_ = await quote(
      db,
      shelf,
      choiceOf(place, { ...typed, bumps: [...typed.bumps, b.offer] }, null, seat),
      at,
    )
    const line = with_?.lines.find((l) => l.role === "bump" && l.offer.id === b.offer)
    if (line) ways[`bump${b.offer}`] = sentence([line.plan])
  }
  return ways
}

function sumOf(
  place: CheckoutPlace,
  q: Quote,
  shelf: Shelf,
  again: boolean,
  ways: Readonly<Record<string, string>>,
  deal: Deal | null,
): SumView {
  const w = words.checkout
  const off = q.coupon && (q.off > 0 ? w.off(q.coupon.code, moneyText(q.off, q.currency)) : w.offLater(q.coupon.code))
  const button =
    q.today.gross > 0 ? w.pay(moneyText(q.today.gross, q.currency)) : q.needsCard ? w.keepCard : place.block.says
  return {
    lines: q.lines.map((l) => ({ name: l.offer.publicName, says: sentence([l.plan]) })),
    sentence: q.sentence,
    today: moneyShort(q.today.gross, q.currency),
    problem: q.refused ?? q.couponSays,
    seen: q.seen,
    again,
    ways,
    off: off && q.coupon?.forSeats && deal ? w.offUntil(off, untilWords(deal.until, deal.zone)) : off,
    button: again ? w.onceMore(button) : button,
    needsCard: q.needsCard,
    statement: shelf.rules.statement,
  }
}

/**
 * Somebody signed in who has it is told, and taken there, and so is the device that has just bought it; to anybody else
 * nothing is said.
 */
async function hasAlready(
  front: Front,
  place: CheckoutPlace,
  shelf: Shelf,
  at: number,
  who: Learner | null,
  visitor: Visitor,
): Promise<CheckoutView["has"]> {
  const offer = shelf.offers.get(place.offer)
  if (!offer) return null
  const w = words.checkout
  if (who && (await ownedOffers(front.s.db, shelf, who.person, null, at)).has(offer.id))
    return { says: w.hasIt(offer.publicName), href: (await opensAt(front, giftsOf(offer, shelf.offers))) ?? "/learn" }
  const bought = visitor.newcomer ? undefined : await justBought(front.s.db, place, visitor.id, at)
  return bought?.state === "paid"
    ? { says: w.boughtHere(offer.publicName), href: (await opensAt(front, giftsOf(offer, shelf.offers))) ?? "/learn" }
    : null
}

/** A checkout's form: asked what it comes to, or sent. */
async function postCheckout(
  front: Front,
  req: Request,
  page: LivePage,
  visitor: Visitor,
  fields: Readonly<Record<string, string>>,
): Promise<HttpAnswer | undefined> {
  const { s } = front
  const found = await checkoutOfForm(s, fields.release ?? "", page.page.path)
  if (!found) return undefined
  const live = await releaseById(s.db, page.release)
  const place = found === "old" ? live && checkoutIn(live, page.page.path) : found
  if (!place) return undefined
  const typed: Typed = {
    email: (fields.email ?? "").slice(0, 300),
    name: (fields.name ?? "").slice(0, 300),
    postal: (fields.postal ?? "").slice(0, 400),
    terms: Number(fields.terms) || null,
    bumps: place.block.bumps.map((b) => b.offer).filter((b) => fields[`bump${b}`] === "1"),
    code: (fields.code ?? "").slice(0, 60),
    consent: fields.consent === "1",
    again: fields.again === "1",
  }
  const once = fields.once ?? ""
  if (found === "old") return showCheckout(front, req, page, visitor, { typed, says: words.checkout.changed, once })
  const who = await learnerAt(front, req)
  const deal = await dealHere(front, req, who, place.offer)
  const source = cameFrom(front, req)
  const from = { path: page.page.path, ip: req.ip, visitor: visitor.id, source, seat: deal?.registration }
  if (fields.quote) {
    if (!(await mayTry(s.db, `quote:${connectionOf(req.ip)}`, { most: 3_000, windowMs: 3_600_000 })))
      return plainAnswer(front, 429, { title: words.join.tooMany, paragraphs: [] })
    const shelf = await shelfOf(s.db)
    const at = await s.clock.now()
    const q = await chosenQuote(front, place, typed, shelf, at, from, who, deal)
    const ways = q ? await waysOf(front, place, typed, q, shelf, at, deal) : {}
    if (typed.consent && place.block.consent)
      await noteBegun(s, place, { ...typed, once, zone: fields.zone ?? "" }, from)
    if (req.headers["x-quote"] && q)
      return {
        status: 200,
        headers: { ...commonHeaders, "content-type": "text/html; charset=utf-8", "cache-control": "no-store" },
        body: sumHtml(sumOf(place, q, shelf, typed.again, ways, deal)).text,
      }
    return showCheckout(front, req, page, visitor, { typed, says: null, once })
  }
  req.mustEnd()
  const proved = await provedAddress(front, typed.email, who)
  const placed = await placeOrder(
    s,
    {
      ...typed,
      once,
      release: fields.release ?? "",
      zone: fields.zone ?? "",
      website: fields.website ?? "",
      card: (fields.token ?? "").slice(0, 60),
      seen: fields.seen ?? "",
    },
    { ...from, proved },
  )
  if ("goTo" in placed) return redirect(placed.goTo)
  if (placed.refused === "gone") return undefined
  if (placed.refused === "rate") return plainAnswer(front, 429, { title: placed.says, paragraphs: [] })
  const says = placed.refused === "old" ? words.checkout.changed : placed.says
  const { codeGone = false, again = typed.again } = placed.refused === "form" ? placed : {}
  const kept = { ...typed, again, code: codeGone ? "" : typed.code }
  return showCheckout(front, req, page, visitor, { typed: kept, says, once })
}
