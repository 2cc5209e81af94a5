// Placing an order from a checkout's form: everything is checked while what is limited is locked, the order and its charge
// are written, and only then is the card processor asked.

import { knownZone } from "@/core/calendar/zone"
import type { Step } from "@/core/funnel/draft"
import { offerOf, soldAt } from "@/core/funnel/step/list"
import { holdsPiece } from "@/core/ledger/order"
import { isPosted } from "@/core/offer/gift/list"
import { giftsOf } from "@/core/offer/offer"
import { type CheckoutBlock, checkoutFormOf } from "@/core/page/block/checkout"
import { parseAddress } from "@/core/person/address"
import { connectionOf } from "@/core/person/connection"
import { parseName } from "@/core/person/name"
import { words } from "@/core/words/en"
import { mayTry } from "../attempt"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { arrive, sourceOfJourney } from "../funnel/journey"
import { releaseOfForm } from "../funnel/release"
import { guessed, mayGuess, type Taker, takerOf, usedByThem } from "../offer/coupon"
import { type OfferChoice, type QuotedLine, quote, shelfOf } from "../offer/quote"
import type { Release } from "../releases"
import { firstCharge, keepCardFor, payFirst, refuseFirst } from "./charge"
import { lockedShelf, type OrderRow, putOrder } from "./order"
import { watchStopping } from "./stopped"

export type CheckoutForm = {
  /** Made with the page: the same form sent twice is one order. */
  readonly once: string
  readonly release: string
  readonly email: string
  readonly name: string
  readonly postal: string
  readonly zone: string
  readonly website: string
  readonly terms: number | null
  readonly bumps: readonly number[]
  readonly code: string
  readonly consent: boolean
  /** A token from the processor's card fields; empty where none is needed. */
  readonly card: string
  /** What was read: Quote.seen. */
  readonly seen: string
  /** Pressed after it was said that this device has just bought the same. */
  readonly again: boolean
}

export type Buyer = {
  readonly path: string
  readonly ip: string
  readonly visitor: Buffer
  readonly source: string
  /** A seat at a webinar, which their device has proved to have. */
  readonly seat?: number | null
  /** The canonical address that is signed in on this device: only its owner is told what it has had. */
  readonly proved?: string | null
}

export type PlacedOrder =
  | { readonly refused: "gone" }
  /** `old`: the page has been replaced for longer than its forms are taken. */
  | { readonly refused: "old" }
  /** `codeGone`: the coupon can't be used for this order, and nothing else is wrong. */
  | { readonly refused: "form"; readonly says: string; readonly codeGone?: boolean; readonly again?: boolean }
  | { readonly refused: "rate"; readonly says: string }
  /** The order's own page, which knows how it goes on. */
  | { readonly goTo: string }

export type CheckoutPlace = {
  readonly release: Release
  readonly step: Step
  readonly block: CheckoutBlock
  readonly offer: number
}

/** The checkout at a path of a release. */
export function checkoutIn(release: Release, path: string): CheckoutPlace | undefined {
  const step = release.funnel.steps.find((s) => s.path === path && soldAt(s)?.as === "first")
  const block = step && checkoutFormOf(step.page)
  const offer = step && offerOf(step)
  return offer && block ? { release, step, block, offer } : undefined
}

/** The checkout that a form belongs to; `old` where visitors have had another release for too long. */
export async function checkoutOfForm(
  s: Context,
  release: string | number,
  path: string,
): Promise<CheckoutPlace | "old" | undefined> {
  const found = await releaseOfForm(s, release)
  return found === "old" ? found : found && checkoutIn(found, path)
}

/** What the choice in a checkout form comes to. Only bumps that the page offers count. */
export function choiceOf(
  place: CheckoutPlace,
  form: Pick<CheckoutForm, "terms" | "bumps" | "code">,
  canonical: string | null,
  seat: number | null = null,
): OfferChoice {
  const offered = new Set(place.block.bumps.map((b) => b.offer))
  return {
    main: place.offer,
    terms: form.terms,
    bumps: [...new Set(form.bumps)].filter((b) => offered.has(b)),
    code: form.code,
    canonical,
    seat,
  }
}

export async function placeOrder(s: Context, form: CheckoutForm, from: Buyer): Promise<PlacedOrder> {
  const place = await checkoutOfForm(s, form.release, from.path)
  if (place === "old") return { refused: "old" }
  if (!place || !/^[\w-]{20,40}$/.test(form.once)) return { refused: "gone" }
  if (form.website !== "") return { goTo: `/${from.path}` }
  const before = await orderOfForm(s.db, place, form.once, from.visitor)
  if (before && before.state !== "begun" && before.state !== "refused") return { goTo: `/order/${before.code}` }
  const address = parseAddress(form.email)
  if (!address) return { refused: "form", says: words.join.badEmail }
  const name = parseName(form.name)
  if (name === null) return { refused: "form", says: words.join.badName }
  if (!(await mayTry(s.db, `buy:${connectionOf(from.ip)}`, { most: 600, windowMs: 3_600_000 })))
    return { refused: "rate", says: words.join.tooMany }
  if (form.code.trim() && !(await mayGuess(s.db, from))) return { refused: "form", says: words.coupon.tooMany }

  const at = await s.clock.now()
  const placed = await s.db
    .transaction((tx) => write(tx, s, place, form, { ...from, ...address, name }, at))
    .catch(async (error) => {
      // The same form sent twice at once: the other one has placed it.
      if ((error as { code?: string }).code !== "ER_DUP_ENTRY") throw error
      const other = await orderOfForm(s.db, place, form.once, from.visitor)
      if (!other) throw error
      return { goTo: `/order/${other.code}` }
    })
  if ("charge" in placed && placed.charge !== undefined)
    await (placed.blocked ? refuseFirst : payFirst)(s, placed.charge, form.card)
  if ("keep" in placed && placed.keep !== undefined) await keepCardFor(s, placed.keep, form.card, placed.blocked)
  return "goTo" in placed ? { goTo: placed.goTo } : placed
}

/** `blocked`: it is answered as a refused card is, since the address has had what it may have, and nobody has proved whose it is. */
type Written =
  | Exclude<PlacedOrder, { goTo: string }>
  | { goTo: string; charge?: number; keep?: number; blocked?: boolean }

async function write(
  tx: Db,
  s: Context,
  place: CheckoutPlace,
  form: CheckoutForm,
  who: Buyer & { email: string; canonical: string; name: string },
  at: number,
): Promise<Written> {
  const choice = choiceOf(place, form, who.canonical, who.seat)
  const shelf = await lockedShelf(tx, choice)
  const told = who.proved === who.canonical
  const q = await quote(tx, shelf, { ...choice, canonical: told ? who.canonical : null, lock: true }, at)
  if (!q) return { refused: "form", says: words.offer.gone }
  if (q.refused) return { refused: "form", says: q.refused }
  if (q.couponRefusal) {
    if (q.couponRefusal === "unknown") await guessed(tx, who)
    const codeGone = q.couponRefusal === "used-by-them" || q.couponRefusal === "used-up"
    return { refused: "form", says: q.couponSays!, codeGone }
  }
  if (q.seen !== form.seen) return { refused: "form", says: words.checkout.changed }
  const posted = q.lines.some((l) => giftsOf(l.offer, shelf.offers).some(isPosted))
  const postal = form.postal.trim().slice(0, 400)
  if (posted && postal.length < 10) return { refused: "form", says: words.checkout.badPostal }
  if (q.needsCard && !s.cards) return { refused: "form", says: words.checkout.noProcessor }
  if (q.needsCard && !form.card) return { refused: "form", says: words.checkout.noCard }
  // What asks for no card could be refused only by telling: there it counts what was taken on this device, whatever is typed.
  const by: Taker = told || q.needsCard ? takerOf(who.canonical) : { visitor: who.visitor }
  const enough = await hadEnough(tx, q.lines, by)
  const usedUp = !told && (await usedByThem(tx, q.coupon, by))
  if (enough && (told || !q.needsCard)) return { refused: "form", says: words.checkout.perPerson }
  if (usedUp && !q.needsCard) return { refused: "form", says: words.coupon["used-by-them"], codeGone: true }

  const known = await orderOfForm(tx, place, form.once, who.visitor, " FOR UPDATE")
  if (known && known.state !== "begun" && known.state !== "refused") return { goTo: `/order/${known.code}` }
  if (!form.again && (await justBought(tx, place, who.visitor, at)))
    return { refused: "form", says: words.checkout.justBought(shelf.offers.get(place.offer)!.publicName), again: true }
  const source = await arriveHere(tx, place, who, at)
  const order = await putOrder(tx, q, {
    id: known?.id ?? null,
    once: form.once,
    first: null,
    funnel: place.release.funnel.id,
    release: place.release.id,
    step: place.step.id,
    visitor: who.visitor,
    source,
    canonical: who.canonical,
    email: who.email,
    name: who.name,
    postal,
    zone: knownZone(form.zone, shelf.rules.zone),
    wording: form.consent ? place.block.consent : "",
    ip: who.ip,
    person: null,
    card: null,
    at,
  })
  const blocked = !told && (enough || usedUp)
  return { goTo: `/order/${order.code}`, ...(await firstCharge(tx, q, order.id, at)), blocked }
}

/** The order that this form placed: of this page and release, and of this visitor. */
async function orderOfForm(
  db: Db,
  place: CheckoutPlace,
  once: string,
  visitor: Buffer,
  lock: "" | " FOR UPDATE" = "",
): Promise<OrderRow | undefined> {
  return db.row<OrderRow>(
    `SELECT * FROM orders WHERE once = ? AND visitor = ? AND step_id = ? AND release_id = ?${lock}`,
    [once, visitor, place.step.id, place.release.id],
  )
}

/** How long a device is reminded that it has bought the same, ms of business time. */
const justNow = 86_400_000

/** The order by which this device has just bought what a checkout sells, or is about to. */
export async function justBought(
  db: Db,
  place: CheckoutPlace,
  visitor: Buffer,
  at: number,
): Promise<OrderRow | undefined> {
  return db.row<OrderRow>(
    `SELECT o.* FROM orders o JOIN order_line l ON l.order_id = o.id AND l.offer_id = ? WHERE o.funnel_id = ? AND o.visitor = ?
     AND o.${holdsPiece} AND o.made_at > ? ORDER BY o.id DESC LIMIT 1`,
    [place.offer, place.release.funnel.id, visitor, new Date(at - justNow)],
  )
}

/** Whoever sends a checkout's form has come there; gives where their journey came from. */
async function arriveHere(tx: Db, place: CheckoutPlace, who: Buyer, at: number): Promise<string> {
  const { id: funnel, againAfter } = place.release.funnel
  await arrive(tx, {
    funnel,
    visitor: who.visitor,
    step: place.step.id,
    outcome: "clicked",
    via: "page",
    at,
    source: who.source,
    againAfter,
  })
  return sourceOfJourney(tx, funnel, who.visitor)
}

async function hadEnough(tx: Db, lines: readonly QuotedLine[], by: Taker): Promise<boolean> {
  for (const { offer } of lines) {
    if (offer.perPerson === null) continue
    const had = await tx.rows(
      `SELECT 1 FROM order_line l JOIN orders o ON o.id = l.order_id WHERE (o.mailbox = ? OR o.visitor = ?) AND l.offer_id = ? AND o.${holdsPiece} LIMIT ?`,
      [by.mailbox ?? null, by.visitor ?? null, offer.id, offer.perPerson],
    )
    if (had.length >= offer.perPerson) return true
  }
  return false
}

/**
 * Somebody filled in their address, agreed to be written to, and has not paid yet: kept, so that they can be written to if
 * they stop. Sent again with every change of the form; it is one order, and the one that is paid in the end.
 */
export async function noteBegun(
  s: Context,
  place: CheckoutPlace,
  typed: Pick<CheckoutForm, "email" | "name" | "once" | "zone" | "terms" | "bumps" | "code">,
  from: Buyer,
): Promise<void> {
  const address = parseAddress(typed.email)
  const name = parseName(typed.name)
  if (!address || name === null || !/^[\w-]{20,40}$/.test(typed.once)) return
  if (!(await mayTry(s.db, `begin:${connectionOf(from.ip)}`, { most: 120, windowMs: 3_600_000 }))) return
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    const known = await orderOfForm(tx, place, typed.once, from.visitor)
    if (known) {
      await tx.write(
        "UPDATE orders SET canonical = ?, email = ?, name = ?, made_at = ? WHERE id = ? AND state = 'begun'",
        [address.canonical, address.email, name, new Date(at), known.id],
      )
      await watchStopping(tx, known.id, at)
      return
    }
    const q = await quote(tx, await shelfOf(tx), choiceOf(place, typed, address.canonical), at)
    if (!q) return
    const source = await arriveHere(tx, place, from, at)
    const made = await putOrder(tx, q, {
      id: null,
      once: typed.once,
      first: null,
      funnel: place.release.funnel.id,
      release: place.release.id,
      step: place.step.id,
      visitor: from.visitor,
      source,
      canonical: address.canonical,
      email: address.email,
      name,
      postal: "",
      zone: knownZone(typed.zone, q.lines[0]!.plan.zone),
      wording: place.block.consent,
      ip: from.ip,
      person: null,
      card: null,
      at,
    })
    await tx.update("orders", made.id, { state: "begun" })
  })
}
