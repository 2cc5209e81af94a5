// The pages that sell, as a visitor meets them: prices, the checkout, the order's own page, further offers, the proof.

import { randomBytes } from "node:crypto"
import { addressOf, type Step } from "@/core/funnel/draft"
import { moneyText } from "@/core/offer/money"
import { giftsOf, isFree } from "@/core/offer/offer"
import { dueToday, type Plan } from "@/core/offer/plan"
import { pastSentence, sentence } from "@/core/offer/sentence"
import { fillPage, type Part } from "@/core/page/compile"
import {
  type CheckoutView,
  checkoutHtml,
  decisionHtml,
  priceHtml,
  proofHtml,
  type SumView,
  sumHtml,
} from "@/core/page/selling"
import { may } from "@/core/person/actor"
import { parseAddress } from "@/core/person/address"
import { connectionOf } from "@/core/person/connection"
import { words } from "@/core/words/en"
import { mayTry } from "@/server/attempt"
import { ask } from "@/server/ledger/charge"
import { acceptOffer, declineOffer, type Offered, offeredTo, orderOfVisitor } from "@/server/ledger/further"
import { type OrderRow, orderByCode, storyOf, wayOn } from "@/server/ledger/order"
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
import { cardOf, costWords } from "@/server/offer/shown"
import { actorOf, admitDevice, couponCookie, type Learner, learnerOf, sessionCookie } from "@/server/person/session"
import { releaseById } from "@/server/releases"
import type { Answer, Request } from "./exchange"
import type { LivePage } from "./live"
import { commonHeaders, pagePolicy } from "./policy"
import { cameFrom, cookieText, type Front, plainAnswer, redirect, sessionHeader, type Visitor } from "./reply"

/** A page of this kind is made anew for each look, from its finished pieces and the moment. */
export async function lookAtSelling(
  front: Front,
  req: Request,
  page: LivePage,
  visitor: Visitor,
): Promise<Answer | undefined> {
  const release = await releaseById(front.s.db, page.release)
  const step = release?.funnel.steps.find((x) => x.id === page.step)
  if (!release || !step) return undefined
  switch (step.kind) {
    case "checkout":
      return showCheckout(front, req, page, visitor, null)
    case "further":
      return showFurther(front, req, page, visitor, step)
    case "welcome":
      return html(front, page, 200, await proofParts(front, page, visitor))
    default:
      return html(front, page, 200, () => "")
  }
}

/** Prices come from what is known in memory; other parts from the given function. */
function html(front: Front, page: LivePage, status: number, part: (p: Part) => string): Answer {
  const cards = front.live.offers()
  const body = fillPage(page.page.pieces, {}, (p) => (p.part === "price" ? priceHtml(cards[p.offer]) : part(p)))
  const origin = front.s.cards?.origin
  return {
    status,
    headers: {
      ...commonHeaders,
      "content-type": "text/html; charset=utf-8",
      "content-security-policy": origin ? pagePolicy(page.page.style, page.page.script, origin) : page.policy,
      "cache-control": "no-store",
    },
    body,
  }
}

/** Who is signed in on this device. */
export function learnerAt(front: Front, req: Request): Promise<Learner | null> {
  return learnerOf(front.s.db, req.cookies[sessionCookie(front.s.config, "learn")])
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
): Promise<Answer | undefined> {
  const { s } = front
  const release = await releaseById(s.db, page.release)
  const place = release && checkoutIn(release, page.page.path)
  if (!place) return undefined
  const code = req.query.get("coupon") ?? req.cookies[couponCookie(s.config)] ?? ""
  const tried = wrong ? null : await refusedOrder(front, req, visitor)
  const typed: Typed = wrong?.typed ?? tried?.typed ?? { ...nothingTyped, code: decoded(code) }
  const at = await s.clock.now()
  const shelf = await shelfOf(s.db)
  const who = await learnerAt(front, req)
  const chosen = await chosenQuote(front, place, typed, shelf, at, { ip: req.ip, visitor: visitor.id }, who)
  if (!chosen) return plainAnswer(front, 410, { title: words.offer.gone, paragraphs: [] })
  const view: CheckoutView = {
    action: `/${page.page.path}`,
    once: wrong?.once ?? tried?.once ?? randomBytes(18).toString("base64url"),
    release: page.release,
    cards: mayNeedCard(place, shelf) ? (s.cards?.origin ?? null) : null,
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
    terms: cardOf(shelf, shelf.offers.get(place.offer)!, at).ways,
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
              picked: typed.bumps.includes(b.offer),
            },
          ]
        : []
    }),
    sum: sumOf(place, chosen, shelf, typed.again, await waysOf(front, place, typed, chosen, shelf, at)),
    has: await hasAlready(front, place, shelf, at, who, visitor),
  }
  const answer = html(front, page, wrong ? 422 : 200, (p) => (p.part === "checkout" ? checkoutHtml(view) : ""))
  return withCoupon(front, req, answer)
}

function decoded(text: string): string {
  try {
    return decodeURIComponent(text).slice(0, 60)
  } catch {
    return ""
  }
}

/** A code that came with the link goes along to the checkout. */
export function withCoupon(front: Front, req: Request, answer: Answer): Answer {
  const code = req.query.get("coupon")
  if (!code) return answer
  const { config } = front.s
  const cookie = cookieText(config, couponCookie(config), encodeURIComponent(code.slice(0, 60)), 2_592_000)
  const before = answer.headers["set-cookie"]
  return {
    ...answer,
    headers: { ...answer.headers, "set-cookie": before ? [before, cookie].flat() : cookie },
  }
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
): Promise<Quote | null> {
  const { db } = front.s
  const code = typed.code.trim() !== ""
  const may = !code || (await mayGuess(db, from))
  const choice = choiceOf(place, may ? typed : { ...typed, code: "" }, await provedAddress(front, typed.email, who))
  const q = await quote(db, shelf, choice, at)
  if (q?.couponRefusal === "unknown") await guessed(db, from)
  return q && !may ? { ...q, couponSays: words.coupon.tooMany } : q
}

/** The typed address where it is one of whoever is signed in here with all they have. */
async function provedAddress(front: Front, email: string, who: Learner | null): Promise<string | null> {
  const canonical = parseAddress(email)?.canonical
  if (!canonical || who?.scope !== null) return null
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
    return offer !== undefined && giftsOf(offer, shelf.offers).some((g) => g.kind === "post")
  })
}

/**
 * Each way to pay and each bump in a sentence, with the coupon where it counts, so that what is chosen between and what is
 * paid agree.
 */
async function waysOf(front: Front, place: CheckoutPlace, typed: Typed, q: Quote, shelf: Shelf, at: number) {
  const ways: Record<string, string> = {}
  if (!q.coupon) return ways
  const { db } = front.s
  for (const t of shelf.offers.get(place.offer)?.terms ?? []) {
    const with_ = await quote(db, shelf, choiceOf(place, { ...typed, terms: t.id }, null), at)
    if (with_) ways[`terms${t.id}`] = sentence([with_.lines[0]!.plan])
  }
  for (const b of place.block.bumps) {
    const with_ = await quote(db, shelf, choiceOf(place, { ...typed, bumps: [...typed.bumps, b.offer] }, null), at)
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
): SumView {
  const w = words.checkout
  const button =
    q.today.gross > 0 ? w.pay(moneyText(q.today.gross, q.currency)) : q.needsCard ? w.keepCard : place.block.says
  return {
    lines: q.lines.map((l) => ({ name: l.offer.publicName, says: sentence([l.plan]) })),
    sentence: q.sentence,
    problem: q.refused ?? q.couponSays,
    seen: q.seen,
    again,
    ways,
    off: q.coupon && (q.off > 0 ? w.off(q.coupon.code, moneyText(q.off, q.currency)) : w.offLater(q.coupon.code)),
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
  if (who?.scope === null && (await ownedOffers(front.s.db, shelf, who.person, null, at)).has(offer.id))
    return { says: w.hasIt(offer.publicName), href: await opensAt(front, giftsOf(offer, shelf.offers)) }
  const bought = visitor.newcomer ? undefined : await justBought(front.s.db, place, visitor.id, at)
  return bought?.state === "paid"
    ? { says: w.boughtHere(offer.publicName), href: await opensAt(front, giftsOf(offer, shelf.offers)) }
    : null
}

/** Where the first course among gifts opens. */
async function opensAt(front: Front, gifts: ReturnType<typeof giftsOf>): Promise<string> {
  const course = gifts.find((g) => g.kind === "course")
  const row =
    course &&
    (await front.s.db.row<{ slug: string }>("SELECT slug FROM course WHERE id = ? AND state = 'live'", [course.course]))
  return row ? `/learn/${row.slug}` : "/learn"
}

/** A checkout's form: asked what it comes to, or sent. */
export async function postCheckout(
  front: Front,
  req: Request,
  page: LivePage,
  visitor: Visitor,
  fields: Readonly<Record<string, string>>,
): Promise<Answer | undefined> {
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
  const from = { path: page.page.path, ip: req.ip, visitor: visitor.id, source: cameFrom(front, req) }
  if (fields.quote) {
    if (!(await mayTry(s.db, `quote:${connectionOf(req.ip)}`, { most: 3_000, windowMs: 3_600_000 })))
      return plainAnswer(front, 429, { title: words.join.tooMany, paragraphs: [] })
    const shelf = await shelfOf(s.db)
    const at = await s.clock.now()
    const q = await chosenQuote(front, place, typed, shelf, at, from, await learnerAt(front, req))
    const ways = q ? await waysOf(front, place, typed, q, shelf, at) : {}
    if (typed.consent && place.block.consent)
      await noteBegun(s, place, { ...typed, once, zone: fields.zone ?? "" }, from)
    if (req.headers["x-quote"] && q)
      return {
        status: 200,
        headers: { ...commonHeaders, "content-type": "text/html; charset=utf-8", "cache-control": "no-store" },
        body: sumHtml(sumOf(place, q, shelf, typed.again, ways)),
      }
    return showCheckout(front, req, page, visitor, { typed, says: null, once })
  }
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
    from,
  )
  if ("goTo" in placed) return redirect(placed.goTo)
  if (placed.refused === "gone") return undefined
  if (placed.refused === "rate") return plainAnswer(front, 429, { title: placed.says, paragraphs: [] })
  const says = placed.refused === "old" ? words.checkout.changed : placed.says
  const { codeGone = false, again = typed.again } = placed.refused === "form" ? placed : {}
  const kept = { ...typed, again, code: codeGone ? "" : typed.code }
  return showCheckout(front, req, page, visitor, { typed: kept, says, once })
}

/** How long an order is its device's own, without signing in, ms of business time. */
const deviceOwns = 86_400_000
const isFresh = (order: OrderRow, at: number) => at - (order.paid_at ?? order.made_at).getTime() < deviceOwns

/** The order's own page: it asks how the charge stands, and leads on. */
export async function orderDoor(
  front: Front,
  req: Request,
  code: string,
  visitor: Buffer | null,
): Promise<Answer | undefined> {
  const { s } = front
  let order = await orderByCode(s.db, code)
  if (!order) return undefined
  const who = await learnerAt(front, req)
  const same = visitor?.equals(order.visitor) === true && isFresh(order, await s.clock.now())
  if (!same && !may(actorOf(who), "see orders of", { person: order.person_id }))
    return plainAnswer(front, 403, {
      title: words.checkout.foreign,
      paragraphs: [words.checkout.foreignText],
      links: [{ href: "/learn/sign-in", says: words.checkout.signIn }],
    })
  if (order.state === "open" || order.state === "confirming") {
    const charge = await s.db.row<{ id: number; state: string; confirm: string | null; settled: number }>(
      "SELECT id, state, confirm, ask_at < ? AS settled FROM charge WHERE order_id = ? ORDER BY id DESC LIMIT 1",
      [new Date(Date.now() + 17_000), order.id],
    )
    const back = req.query.has("back")
    if (charge?.state === "confirming" && charge.confirm && !back)
      return {
        status: 303,
        headers: { ...commonHeaders, location: charge.confirm, "cache-control": "no-store" },
        body: "",
      }
    if (charge && (back || charge.settled)) await ask(s, charge.id)
    order = (await orderByCode(s.db, code))!
    if (order.state === "confirming" && charge?.confirm)
      return {
        status: 303,
        headers: { ...commonHeaders, location: charge.confirm, "cache-control": "no-store" },
        body: "",
      }
  }
  switch (order.state) {
    case "paid":
    case "refunded": {
      const token = same
        ? await admitDevice(s.db, req.cookies[sessionCookie(s.config, "learn")], {
            person: order.person_id!,
            order: storyOf(order),
          })
        : null
      const headers: Record<string, string> = token ? { "set-cookie": sessionHeader(s.config, "learn", token) } : {}
      return redirect(await wayOn(s.db, order, await s.clock.now()), headers)
    }
    case "refused":
      return redirect(await backTo(front, order))
    case "lapsed":
    case "begun":
      return plainAnswer(front, 200, {
        title: words.checkout.lapsed,
        paragraphs: [words.checkout.lapsedText],
        links: [{ href: (await backTo(front, order)).split("?")[0]!, says: words.checkout.again }],
      })
    default:
      return plainAnswer(
        front,
        200,
        { title: words.checkout.waiting, paragraphs: [words.checkout.waitingText] },
        { refresh: `3; url=/order/${code}` },
      )
  }
}

/** The page an order was placed on, with word of what went wrong. */
async function backTo(front: Front, order: OrderRow): Promise<string> {
  const release = order.release_id === null ? undefined : await releaseById(front.s.db, order.release_id)
  const step = release?.funnel.steps.find((x) => x.id === order.step_id)
  return release && step ? `${addressOf(release.funnel, step)}?order=${order.code}` : "/learn"
}

async function showFurther(
  front: Front,
  req: Request,
  page: LivePage,
  visitor: Visitor,
  step: Step,
): Promise<Answer | undefined> {
  const { s } = front
  const who = await learnerAt(front, req)
  const order = await orderOfVisitor(s.db, page.funnel, visitor.id, who?.scope === null ? who.person : null)
  if (!order) return redirect(await beginningOf(front, page))
  const offered = await offeredTo(s, order, step.id)
  if ("goTo" in offered) return redirect(offered.goTo)
  return furtherPage(front, page, offered, null, 200)
}

/** Whoever opens a further offer without having bought is led to where the funnel begins. */
async function beginningOf(front: Front, page: LivePage): Promise<string> {
  const release = await releaseById(front.s.db, page.release)
  const first = release?.funnel.steps.find((x) => x.kind === "sales") ?? release?.funnel.steps[0]
  return release && first ? addressOf(release.funnel, first) : "/learn"
}

function furtherPage(front: Front, page: LivePage, offered: Offered, says: string | null, status: number): Answer {
  const { quote: q, order } = offered
  const amount = dueToday(q.lines[0]!.plan).gross
  return html(front, page, status, (p) => {
    if (p.part !== "decision") return ""
    const block = page.decisions.get(p.block)
    return decisionHtml({
      action: `/${page.page.path}`,
      order: order.code,
      sentence: q.sentence,
      seen: q.seen,
      accept: (block?.accept ?? "") + costWords(amount, q.currency, q.needsCard),
      decline: block?.decline ?? "",
      error: says ?? offered.says,
    })
  })
}

/** Yes or no to a further offer: only from the device that ordered, or after sign-in. */
export async function postFurther(
  front: Front,
  req: Request,
  page: LivePage,
  visitor: Visitor,
  fields: Readonly<Record<string, string>>,
): Promise<Answer | undefined> {
  const { s } = front
  const order = await orderByCode(s.db, fields.order ?? "")
  const who = await learnerAt(front, req)
  const theirs =
    order && (order.visitor.equals(visitor.id) || may(actorOf(who), "see orders of", { person: order.person_id }))
  if (!theirs) return redirect(await beginningOf(front, page))
  if (fields.say === "declined") return redirect((await declineOffer(s, order.code, page.step)).goTo)
  if (fields.say !== "accepted") return redirect(`/${page.page.path}`)
  const done = await acceptOffer(s, order.code, page.step, fields.seen ?? "")
  if ("goTo" in done) return redirect(done.goTo)
  const again = await offeredTo(s, order, page.step)
  return "goTo" in again ? redirect(again.goTo) : furtherPage(front, page, again, words.further.changed, 409)
}

async function proofParts(front: Front, page: LivePage, visitor: Visitor): Promise<(p: Part) => string> {
  const { s } = front
  const order = await orderOfVisitor(s.db, page.funnel, visitor.id, null)
  if (!order || !isFresh(order, await s.clock.now())) return () => ""
  const lines = await s.db.rows<{ order_id: number; name: string; offer_id: number; plan: string }>(
    "SELECT l.order_id, l.name, l.offer_id, l.plan FROM order_line l JOIN orders o ON o.id = l.order_id WHERE (o.id = ? OR o.first_id = ?) AND o.state = 'paid' ORDER BY l.id",
    [order.id, order.id],
  )
  const shelf = await shelfOf(s.db)
  const gifts = lines.flatMap((l) => {
    const offer = shelf.offers.get(l.offer_id)
    return offer ? giftsOf(offer, shelf.offers) : []
  })
  const proof = proofHtml({
    orders: [...new Set(lines.map((l) => l.order_id))].map((id) => {
      const of = lines.filter((l) => l.order_id === id)
      return {
        number: String(id),
        bought: of.map((l) => l.name).join(", "),
        sentence: pastSentence(of.map((l) => JSON.parse(l.plan) as Plan)),
      }
    }),
    email: order.email,
    open: { href: await opensAt(front, gifts), says: words.proof.open },
  })
  return (p) => (p.part === "proof" ? proof : "")
}
