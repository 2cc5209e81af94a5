// Placing an order from a checkout's form: everything is checked while what is limited is locked, the order and its charge
// are written, and only then is the card processor asked.
import type { Step } from "@/core/funnel/draft"
import { knownZone } from "@/core/mail/schedule"
import { giftsOf } from "@/core/offer/offer"
import { allBlocks, type Block } from "@/core/page/document"
import { parseAddress } from "@/core/person/address"
import { parseName } from "@/core/person/name"
import { words } from "@/core/words/en"
import { mayTry } from "../attempt"
import type { Db } from "../db/pool"
import { arrive } from "../funnel/journey"
import { type Release, releaseById } from "../funnel/release"
import { type Choice, type QuotedLine, quote, shelfOf } from "../offer/quote"
import type { Surroundings } from "../surroundings"
import { keepCardFor, payFirst } from "./charge"
import { firstCharge, lockedShelf, type OrderRow, putOrder } from "./order"

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
}

export type Buyer = { readonly path: string; readonly ip: string; readonly visitor: Buffer; readonly source: string }

export type Placed =
  | { readonly refused: "gone" }
  | { readonly refused: "form"; readonly says: string }
  | { readonly refused: "rate"; readonly says: string }
  /** The order's own page, which knows how it goes on. */
  | { readonly goTo: string }

export type CheckoutBlock = Extract<Block, { kind: "checkout" }>
export type CheckoutPlace = {
  readonly release: Release
  readonly step: Step
  readonly block: CheckoutBlock
  readonly offer: number
}

/** The checkout that a form of this release belongs to. */
export async function checkoutOf(db: Db, release: string | number, path: string): Promise<CheckoutPlace | undefined> {
  const found = /^[1-9]\d{0,8}$/.test(String(release)) ? await releaseById(db, Number(release)) : undefined
  const step = found?.funnel.steps.find((s) => s.path === path && s.kind === "checkout")
  const block = step?.page && [...allBlocks(step.page.blocks)].find((b) => b.kind === "checkout")
  return found && step?.offerId && block ? { release: found, step, block, offer: step.offerId } : undefined
}

/** What the choice in a checkout form comes to. Only bumps that the page offers count. */
export function choiceOf(
  place: CheckoutPlace,
  form: Pick<CheckoutForm, "terms" | "bumps" | "code">,
  canonical: string | null,
): Choice {
  const offered = new Set(place.block.bumps.map((b) => b.offer))
  return {
    main: place.offer,
    terms: form.terms,
    bumps: [...new Set(form.bumps)].filter((b) => offered.has(b)),
    code: form.code,
    canonical,
  }
}

export async function placeOrder(s: Surroundings, form: CheckoutForm, from: Buyer): Promise<Placed> {
  const place = await checkoutOf(s.db, form.release, from.path)
  if (!place || !/^[\w-]{20,40}$/.test(form.once)) return { refused: "gone" }
  if (form.website !== "") return { goTo: `/${from.path}` }
  const before = await s.db.row<OrderRow>("SELECT * FROM orders WHERE once = ?", [form.once])
  if (before && before.state !== "begun" && before.state !== "refused") return { goTo: `/order/${before.code}` }
  const address = parseAddress(form.email)
  if (!address) return { refused: "form", says: words.join.badEmail }
  const name = parseName(form.name)
  if (name === null) return { refused: "form", says: words.join.badName }
  if (!(await mayTry(s.db, `buy:${from.ip}`, { most: 600, windowMs: 3_600_000 })))
    return { refused: "rate", says: words.join.tooMany }

  const at = await s.clock.now()
  const placed = await s.db
    .transaction((tx) => write(tx, s, place, form, { ...from, ...address, name }, at))
    .catch(async (error) => {
      // The same form sent twice at once: the other one has placed it.
      if ((error as { code?: string }).code !== "ER_DUP_ENTRY") throw error
      const other = await s.db.row<OrderRow>("SELECT * FROM orders WHERE once = ?", [form.once])
      if (!other) throw error
      return { goTo: `/order/${other.code}` }
    })
  if ("charge" in placed && placed.charge !== undefined) await payFirst(s, placed.charge, form.card)
  if ("keep" in placed && placed.keep !== undefined) await keepCardFor(s, placed.keep, form.card)
  return "goTo" in placed ? { goTo: placed.goTo } : placed
}

type Written = Exclude<Placed, { goTo: string }> | { goTo: string; charge?: number; keep?: number }

async function write(
  tx: Db,
  s: Surroundings,
  place: CheckoutPlace,
  form: CheckoutForm,
  who: Buyer & { email: string; canonical: string; name: string },
  at: number,
): Promise<Written> {
  const choice = choiceOf(place, form, who.canonical)
  const shelf = await lockedShelf(tx, choice)
  const q = await quote(tx, shelf, { ...choice, lock: true }, at)
  if (!q) return { refused: "form", says: words.offer.gone }
  if (q.refused || q.couponSays) return { refused: "form", says: (q.refused ?? q.couponSays)! }
  if (q.seen !== form.seen) return { refused: "form", says: words.checkout.changed }
  const posted = q.lines.some((l) => giftsOf(l.offer, shelf.offers).some((g) => g.kind === "post"))
  const postal = form.postal.trim().slice(0, 400)
  if (posted && postal.length < 10) return { refused: "form", says: words.checkout.badPostal }
  if (q.needsCard && !s.cards) return { refused: "form", says: words.checkout.noProcessor }
  if (q.needsCard && !form.card) return { refused: "form", says: words.checkout.noCard }
  if (await hadEnough(tx, q.lines, who.canonical)) return { refused: "form", says: words.checkout.perPerson }

  const known = await tx.row<OrderRow>("SELECT * FROM orders WHERE once = ? FOR UPDATE", [form.once])
  if (known && known.state !== "begun" && known.state !== "refused") return { goTo: `/order/${known.code}` }
  const order = await putOrder(tx, q, {
    id: known?.id ?? null,
    once: form.once,
    first: null,
    funnel: place.release.funnel.id,
    release: place.release.id,
    step: place.step.id,
    visitor: who.visitor,
    source: who.source,
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
  await arrive(tx, {
    funnel: place.release.funnel.id,
    visitor: who.visitor,
    step: place.step.id,
    outcome: "clicked",
    via: "page",
    at,
    source: who.source,
  })
  return { goTo: `/order/${order.code}`, ...(await firstCharge(tx, q, order.id, at)) }
}

async function hadEnough(tx: Db, lines: readonly QuotedLine[], canonical: string): Promise<boolean> {
  for (const { offer } of lines) {
    if (offer.perPerson === null) continue
    const had = await tx.rows(
      "SELECT 1 FROM order_line l JOIN orders o ON o.id = l.order_id WHERE o.canonical = ? AND l.offer_id = ? AND o.state IN ('open', 'confirming', 'paid') LIMIT ?",
      [canonical, offer.id, offer.perPerson],
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
  s: Surroundings,
  place: CheckoutPlace,
  typed: Pick<CheckoutForm, "email" | "name" | "once" | "zone" | "terms" | "bumps" | "code">,
  from: Buyer,
): Promise<void> {
  const address = parseAddress(typed.email)
  const name = parseName(typed.name)
  if (!address || name === null || !/^[\w-]{20,40}$/.test(typed.once)) return
  if (!(await mayTry(s.db, `begin:${from.ip}`, { most: 120, windowMs: 3_600_000 }))) return
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    if (await tx.row("SELECT 1 FROM orders WHERE once = ?", [typed.once])) {
      await tx.write(
        "UPDATE orders SET canonical = ?, email = ?, name = ?, made_at = ? WHERE once = ? AND state = 'begun'",
        [address.canonical, address.email, name, new Date(at), typed.once],
      )
      return
    }
    const q = await quote(tx, await shelfOf(tx), choiceOf(place, typed, address.canonical), at)
    if (!q) return
    const made = await putOrder(tx, q, {
      id: null,
      once: typed.once,
      first: null,
      funnel: place.release.funnel.id,
      release: place.release.id,
      step: place.step.id,
      visitor: from.visitor,
      source: from.source,
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
    await tx.write("UPDATE orders SET state = 'begun' WHERE id = ?", [made.id])
  })
}
