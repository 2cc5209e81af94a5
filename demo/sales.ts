import { courseAt, offerOf } from "@/core/funnel/step/list"
import { keepPlan } from "@/core/offer/plan-document"
// A year of invented buying, as bulk rows with the meaning that the use cases give them: every amount, charge and sentence
// comes from the same plans that a checkout makes.

import { join } from "node:path"
import type { CourseCard } from "@/core/course/card"
import { daysAfter } from "@/core/course/opens"
import type { Funnel, Step } from "@/core/funnel/draft"
import { streamTo } from "@/core/funnel/draft"
import { slugOf } from "@/core/funnel/slug"
import type { Outcome } from "@/core/funnel/step/list"
import { paymentLines, refundLines } from "@/core/ledger/journal"
import { retryAt } from "@/core/ledger/retry"
import { nextDue } from "@/core/mail/schedule"
import { moneyText } from "@/core/offer/money"
import { giftsOf, type Offer } from "@/core/offer/offer"
import { type Charge, chargeAt, dueToday, needsCard, type Plan, planOf, spread } from "@/core/offer/plan"
import { sentence } from "@/core/offer/sentence"
import { allBlocks } from "@/core/page/document"
import type { Context } from "@/server/context"
import type { Db } from "@/server/db/pool"
import { couponByCode } from "@/server/offer/coupon"
import { type Shelf, shelfOf } from "@/server/offer/quote"
import { searchedText } from "@/server/person/person"
import { type Card, Store } from "@/standins/processor/store"
import { firstNames, zones } from "./lessons"
import { fact, noRows, numberOrders, type Row, type Rows, waitFor, writeRows } from "./rows"
import { type Seeded, seeded } from "./seeded"
import type { DemoShop } from "./shop"
import { sourceAt, wave } from "./traffic"

const day = 86_400_000
const minute = 60_000

type Learner = { id: number; name: string; email: string; zone: string; joined: number }
type Coupons = Awaited<ReturnType<typeof couponsOf>>

export type Make = {
  readonly rows: Rows
  readonly funnel: Funnel
  readonly shop: DemoShop
  readonly shelf: Shelf
  readonly coupons: Coupons
  readonly now: number
  readonly random: Seeded
  readonly store: Store
  readonly learners: Learner[]
  next: { person: number; mail: number; enrolment: number }
}

export async function makeSales(
  s: Context,
  shop: DemoShop,
  funnel: Funnel,
  o: { now: number; days: number; visitors: number },
  /** Writes more rows, of people who buy as these do. */
  more: (m: Make) => void,
): Promise<void> {
  const random = seeded(29_000)
  const last = async (table: string) =>
    (await s.db.row<{ n: number }>(`SELECT COALESCE(MAX(id), 0) AS n FROM ${table}`))!.n
  const learners = await s.db.rows<{ id: number; name: string; email: string; zone: string; joined_at: Date }>(
    "SELECT id, name, email, zone, joined_at FROM person ORDER BY id",
  )
  const m: Make = {
    rows: noRows(),
    funnel,
    shop,
    shelf: await shelfOf(s.db),
    coupons: await couponsOf(s.db, shop),
    now: o.now,
    random,
    store: new Store(join(s.config.dataFolder, "processor")),
    learners: learners.map((l) => ({ ...l, joined: l.joined_at.getTime() })),
    next: { person: await last("person"), mail: await last("mail"), enrolment: await last("enrolment") },
  }
  const arrivals = Array.from({ length: o.visitors }, () => wave(o.now - random() ** 1.15 * o.days * day, random))
    .filter((at) => at < o.now - minute)
    .sort((a, b) => a - b)
  for (const at of arrivals) oneVisitor(m, at)
  more(m)
  const number = numberOrders(m.rows)
  for (const c of m.rows.charges) renamePayment(m.store, c, number)
  await writeRows(s.db, m.rows)
}

/** The processor knows a payment by its order. */
function renamePayment(store: Store, charge: Row, number: (old: number) => number): void {
  const payment = store.payments.get(String(charge[11]))
  if (!payment) return
  const order = number(Number(payment.reference.split(" ")[1]))
  store.keep({ kind: "payment", value: { ...payment, key: String(charge[1]), reference: `order ${order}` } })
}

async function couponsOf(db: Db, shop: DemoShop) {
  return Promise.all(shop.coupons.map(async (c) => ({ ...c, coupon: (await couponByCode(db, c.code))! })))
}

/** A journey in the making: where it rests, and what it has paid. */
export type Way = {
  readonly visitor: Buffer
  readonly source: string
  readonly begun: Date
  step: number
  at: number
  paid: number
  person: number | null
}

function oneVisitor(m: Make, at: number): void {
  const { random, funnel } = m
  const visitor = Buffer.alloc(16)
  for (let i = 0; i < 16; i += 4) visitor.writeUInt32BE(Math.floor(random() * 2 ** 32), i)
  const source = sourceAt(random() * 100)
  const sales = funnel.steps.find((x) => x.kind === "sales")!
  const checkout = funnel.steps.find((x) => x.kind === "checkout")!
  const way: Way = { visitor, source: source.name, begun: new Date(at), step: sales.id, at, paid: 0, person: null }
  arrive(m, way, sales.id, at, null)
  const clicked = Math.round(at + random.between(0.6, 9) * minute)
  if (random.chance(0.34 * source.ready) && clicked < m.now) {
    arrive(m, way, checkout.id, clicked, "clicked")
    buy(m, way, checkout, Math.round(clicked + random.between(1, 8) * minute))
  }
  m.rows.journeys.push([funnel.id, visitor, way.person, way.source, way.begun, way.step, new Date(way.at), way.paid])
}

export function arrive(m: Make, way: Way, step: number, at: number, outcome: Outcome | null): void {
  if (at > m.now) return
  m.rows.facts.push(
    fact("arrived", at, {
      once: `arrived:${m.funnel.id}:${way.visitor.toString("hex")}:${step}`,
      person: way.person,
      funnel: m.funnel.id,
      visitor: way.visitor,
      step,
      from: outcome ? way.step : null,
      outcome,
      via: outcome ? "page" : "source",
      source: way.source,
      begun: way.begun,
      money: way.paid,
    }),
  )
  way.step = step
  way.at = at
}

/** With `joined` it is somebody who is put down already. */
type Buyer = { id: number; name: string; email: string; zone: string; joined?: number }

/** Somebody who is known from the mini-course, or new. */
function buyerAt(m: Make, at: number): Buyer {
  const known = m.learners.findIndex((l) => l.joined < at - 2 * day)
  if (known >= 0 && m.random.chance(0.4)) {
    const at = Math.min(m.learners.length - 1, known + Math.floor(m.random() * 400))
    const [learner] = m.learners.splice(at, 1)
    if (learner && learner.joined < m.now) return learner
  }
  const id = ++m.next.person
  const name = m.random.pick(firstNames)
  const email = `${slugOf(name, "buyer")}.${id}@${m.random.pick(["postbox", "kitchen-mail", "letterbox"])}.example`
  return { id, name, email, zone: m.random.pick(zones) }
}

function putPerson(m: Make, b: Buyer, at: number, source: string, confirmed: boolean): void {
  if (m.learners.some((l) => l.id === b.id) || "joined" in b) return
  m.rows.persons.push([b.id, b.name, b.email, b.zone, new Date(at), source, searchedText(b.name, b.email)])
  m.rows.addresses.push([b.id, b.id, b.email, b.email, confirmed ? new Date(at) : null, null, null, null])
}

/** `known`: who it is; somebody is found otherwise. */
export function buy(m: Make, way: Way, checkout: Step, at: number, known?: Buyer): void {
  const { random } = m
  if (at > m.now - 2 * minute) return
  const draw = random()
  if (draw > 0.58) return
  const b = known ?? buyerAt(m, at)
  const block = [...allBlocks(checkout.page!.blocks)].find((x) => x.kind === "checkout")!
  const offer = m.shelf.offers.get(offerOf(checkout)!)!
  const terms = offer.terms[random.chance(0.62) ? 0 : 1]!
  const given = m.coupons.find((c) => c.source === way.source)
  const coupon = given && random.chance(0.45) ? given.coupon : null
  const bump = random.chance(0.24) ? m.shelf.offers.get(block.bumps[0]?.offer ?? 0) : undefined
  const { tax, zone } = m.shelf.rules
  const context = { currency: offer.currency, tax, zone, start: at }
  let plan = planOf(terms.terms, context)
  if (coupon) plan = spread(coupon.discount, [plan])[0]!
  const lines: Line[] = [{ offer, plan, role: "main" }]
  if (bump) lines.push({ offer: bump, plan: planOf(bump.terms[0]!.terms, context), role: "bump" })
  const common = { way, b, at, lines, step: checkout.id, first: null, coupon: coupon?.id ?? null }
  if (draw > 0.5) {
    const agreed = random.chance(0.5)
    const state = draw > 0.53 ? "begun" : "refused"
    const order = putOrder(m, { ...common, state, wording: agreed ? block.consent : "", card: null })
    if (state === "refused")
      putCharge(m, {
        order: order.id,
        at,
        charge: order.today,
        reason: random.pick(["refused", "insufficient"] as const),
      })
    if (agreed && at < m.now - 2 * 3_600_000) stopped(m, way, b, at + 3_600_000, block.consent)
    return
  }
  const card = keepCard(m)
  putPerson(m, b, at, way.source, random.chance(0.8))
  way.person = b.id
  const order = putOrder(m, { ...common, state: "paid", wording: "", card })
  way.paid += order.today.gross
  furtherOn(m, way, b, order, "bought", checkout, at + random.between(0.05, 0.3) * minute, card)
}

type Line = { readonly offer: Offer; readonly plan: Plan; readonly role: "main" | "bump" | "further" }
type PutOrder = {
  readonly way: Way
  readonly b: Buyer
  readonly at: number
  readonly lines: readonly Line[]
  readonly step: number
  readonly first: number | null
  readonly coupon: number | null
  readonly state: "begun" | "refused" | "paid"
  readonly wording: string
  readonly card: { id: number; card: Card } | null
}
type Ordered = { readonly id: number; readonly today: Pick<Charge, "net" | "tax" | "gross"> }

/** An order in its end state, with what came of it: charges, plans, admissions, journal, receipt. */
function putOrder(m: Make, o: PutOrder): Ordered {
  const { rows, random } = m
  const id = rows.orders.length + 1
  const paid = o.state === "paid"
  const today = o.lines
    .map((l) => dueToday(l.plan))
    .reduce((a, c) => ({ net: a.net + c.net, tax: a.tax + c.tax, gross: a.gross + c.gross }), {
      net: 0,
      tax: 0,
      gross: 0,
    })
  const name = o.lines.map((l) => l.offer.publicName).join(", ")
  const refund = paid && o.first === null && random.chance(0.035) ? o.at + random.between(1, 13) * day : null
  const givenBack = refund !== null && refund < m.now && today.gross > 0 ? refund : null
  const part = givenBack !== null && random.chance(0.25)
  const row = [
    id,
    randomCode(random),
    `demo-${id}`,
    o.first,
    givenBack !== null && !part && o.lines.every((l) => !l.plan.recurring) ? "refunded" : o.state,
    m.funnel.id,
    m.shop.release,
    o.step,
    o.way.visitor,
    o.way.source,
    paid ? o.b.id : null,
    o.b.email,
    o.b.email,
    o.b.name,
    o.b.zone,
    o.wording,
    o.coupon,
    "EUR",
    today.net,
    today.tax,
    today.gross,
    sentence(o.lines.map((l) => l.plan)),
    o.card?.id ?? null,
    new Date(o.at),
    paid ? new Date(o.at + 4_000) : null,
    new Date(0),
    o.state === "paid" ? null : new Date(o.at + 3_600_000),
  ]
  rows.orders.push(row)
  const ended = givenBack !== null && !part ? givenBack : null
  if (paid) {
    rows.facts.push(
      fact("bought", o.at, {
        once: `bought:${id}`,
        person: o.b.id,
        funnel: m.funnel.id,
        step: o.step,
        subject: id,
        words: name,
        money: today.gross,
      }),
    )
    if (today.gross > 0) {
      const charge = putCharge(m, { order: id, at: o.at, charge: today, card: o.card!.card, story: o.first ?? id })
      if (givenBack !== null)
        giveBack(m, {
          charge,
          order: id,
          story: o.first ?? id,
          person: o.b.id,
          paid: today,
          amount: part ? Math.round(today.gross / 4) : today.gross,
          at: givenBack,
          access: part ? "stays" : "ends",
        })
    }
    rows.mails.push([
      ++m.next.mail,
      `receipt:${id}`,
      "receipt",
      o.b.id,
      o.b.email,
      o.b.name,
      m.funnel.id,
      null,
      null,
      id,
      "sent",
      new Date(o.at),
      new Date(0),
      new Date(o.at + 5_000),
      `Receipt ${id} from Juniper Crock`,
      null,
    ])
  }
  for (const l of o.lines) {
    const line = rows.lines.length + 1
    rows.lines.push([
      line,
      id,
      l.offer.id,
      l.role,
      l.offer.publicName,
      keepPlan(l.plan),
      l.plan.today === null ? 0 : chargeAt(l.plan, 0)!.gross,
    ])
    if (!paid) continue
    const end = goOnCharging(m, { ...o, id, line, l, ended })
    for (const gift of giftsOf(l.offer, m.shelf.offers)) {
      if (gift.kind === "post") continue
      rows.admissions.push([
        o.b.id,
        gift.kind === "course" ? gift.course : null,
        gift.kind === "file" ? gift.media : null,
        `line:${line}`,
        o.first ?? id,
        new Date(o.at),
        end === null ? null : new Date(end),
      ])
      rows.facts.push(
        fact("admitted", o.at, {
          person: o.b.id,
          subject: gift.kind === "course" ? gift.course : undefined,
          words: gift.title,
        }),
      )
    }
  }
  return { id, today }
}

/** The charges of a plan from its second on, up to now; gives when what it opened was closed, or null. */
function goOnCharging(
  m: Make,
  o: PutOrder & { id: number; line: number; l: Line; ended: number | null },
): number | null {
  const { rows, random } = m
  const { plan: terms } = o.l
  let n = terms.today === null ? 0 : 1
  if (!chargeAt(terms, n)) return o.ended
  const id = rows.plans.length + 1
  const story = o.first ?? o.id
  const name = o.l.offer.publicName
  const at = rows.plans.push([]) - 1
  const put = (state: string, due: number, tryAt: number, failed: number, end: number | null, why: string | null) => {
    rows.plans[at] = [
      id,
      o.line,
      o.id,
      o.b.id,
      o.card!.id,
      state,
      n,
      new Date(due),
      new Date(tryAt),
      failed,
      end === null ? null : new Date(end),
      why,
    ]
  }
  for (; ; n++) {
    const charge = chargeAt(terms, n)
    if (!charge) {
      put("finished", m.now, m.now, 0, m.now, null)
      return o.ended
    }
    const due = charge.at
    if (o.ended !== null && o.ended < due) {
      put("ended", due, due, 0, o.ended, "given back")
      return o.ended
    }
    const leaves = terms.recurring!.times === null && random.chance(0.07)
    const leftAt = due - random.between(1, 20) * day
    if (leaves && leftAt < m.now && leftAt > o.at) {
      put("ended", due, due, 0, leftAt, "ended by the buyer")
      rows.facts.push(
        fact("plan-ended", leftAt, {
          once: `plan-ended:${id}`,
          person: o.b.id,
          subject: o.id,
          words: `${name}: ended by the buyer`,
        }),
      )
      return due
    }
    if (due > m.now) {
      put("running", due, due, 0, null, null)
      return null
    }
    let failed = 0
    let when: number | null = due
    while (when !== null && when <= m.now && random.chance(failed ? 0.45 : 0.05)) {
      putCharge(m, { order: o.id, plan: id, n, failed, at: when, charge, reason: "insufficient" })
      rows.facts.push(fact("charge-failed", when, { person: o.b.id, subject: o.id, words: name, money: charge.gross }))
      failed++
      when = retryAt(due, failed)
    }
    if (when === null) {
      const end = due + 7 * day
      put("ended", due, end, failed, end, "the card was refused")
      rows.facts.push(
        fact("plan-ended", end, {
          once: `plan-ended:${id}`,
          person: o.b.id,
          subject: o.id,
          words: `${name}: the card was refused`,
        }),
      )
      return end
    }
    if (when > m.now) {
      put("behind", due, when, failed, null, null)
      return null
    }
    putCharge(m, { order: o.id, plan: id, n, failed, at: when, charge, card: o.card!.card, story })
    rows.facts.push(fact("charged", when, { person: o.b.id, subject: o.id, words: name, money: charge.gross }))
  }
}

function putCharge(
  m: Make,
  c: {
    order: number
    plan?: number
    n?: number
    failed?: number
    at: number
    charge: Pick<Charge, "net" | "tax" | "gross">
    card?: Card
    story?: number
    reason?: "refused" | "insufficient"
  },
): number {
  const { rows, store } = m
  const id = rows.charges.length + 1
  const good = c.card !== undefined
  const payment = good ? `pay_demo${id}` : null
  const once = c.plan ? `plan-${c.plan}-${c.n}-${c.failed}` : `order-${c.order}-1`
  rows.charges.push([
    id,
    once,
    c.order,
    c.plan ?? null,
    c.n ?? 0,
    good ? "succeeded" : "refused",
    c.charge.net,
    c.charge.tax,
    c.charge.gross,
    "EUR",
    0,
    payment,
    c.reason ?? null,
    new Date(c.at),
    new Date(c.at + 2_000),
    new Date(0),
  ])
  if (!good || !payment) return id
  for (const l of paymentLines(c.charge))
    rows.journal.push([
      `charge:${id}:${l.account}`,
      new Date(c.at + 2_000),
      c.story,
      id,
      l.account,
      l.amount,
      "EUR",
      new Date(0),
    ])
  store.keep({
    kind: "payment",
    value: {
      id: payment,
      key: once,
      amount: c.charge.gross,
      currency: "EUR",
      statement: "JUNIPER CROCK",
      reference: `order ${c.order}`,
      returnTo: "",
      card: c.card!,
      state: "succeeded",
      reason: null,
      refunded: 0,
      at: new Date(c.at).toISOString(),
    },
  })
  return id
}

function giveBack(
  m: Make,
  r: {
    charge: number
    order: number
    story: number
    person: number
    paid: Pick<Charge, "net" | "tax" | "gross">
    amount: number
    at: number
    access: "stays" | "ends"
  },
): void {
  const { rows, random } = m
  const id = rows.refunds.length + 1
  const why = random.pick(["changed her mind", "bought it twice", "no time this year", "the wrong address"])
  rows.refunds.push([id, `demo-${id}`, r.charge, r.amount, "done", r.access, why, new Date(r.at), new Date(0)])
  rows.charges[r.charge - 1]![10] = r.amount
  for (const l of refundLines(r.paid, 0, r.amount))
    rows.journal.push([
      `refund:${id}:${l.account}`,
      new Date(r.at),
      r.story,
      r.charge,
      l.account,
      l.amount,
      "EUR",
      new Date(0),
    ])
  rows.facts.push(
    fact("refunded", r.at, {
      once: `refunded:${id}`,
      person: r.person,
      subject: r.order,
      words: `${moneyText(r.amount, "EUR")}, ${why}`,
      money: r.amount,
    }),
  )
  const payment = m.store.payments.get(`pay_demo${r.charge}`)
  if (payment) m.store.keep({ kind: "payment", value: { ...payment, refunded: r.amount } })
}

function keepCard(m: Make): { id: number; card: Card } {
  const id = m.rows.cards.length + 1
  // Now and then a card that works now and fails when a plan goes on, so that the demo has something to mend.
  const behaves = m.random.chance(0.06) ? "later" : "fine"
  const last4 = String(1000 + Math.floor(m.random() * 9000))
  const expires = `${String(1 + Math.floor(m.random() * 12)).padStart(2, "0")}/${28 + Math.floor(m.random() * 4)}`
  const card: Card = { id: `card_demo${id}`, behaves, last4, expires }
  m.store.keep({ kind: "card", value: card })
  m.rows.cards.push([id, card.id, last4, expires])
  return { id, card }
}

/** The way through the further offers, as the wiring leads; and the open door at its end. */
function furtherOn(
  m: Make,
  way: Way,
  b: Buyer,
  first: Ordered,
  by: Outcome,
  from: Step,
  at: number,
  card: { id: number; card: Card },
): void {
  const { random, funnel } = m
  let outcome = by
  let step = streamTo(funnel, from.id, outcome)
  let now = at
  while (step?.kind === "further" && now < m.now) {
    arrive(m, way, step.id, now, outcome)
    now = Math.round(now + random.between(0.3, 3) * minute)
    if (random.chance(0.05) || now > m.now) return
    const offer = m.shelf.offers.get(offerOf(step)!)!
    const takes = { "The Koji Tray": 0.29, "Brine Clinic": 0.18, "The Cold Shelf": 0.33 }[offer.publicName] ?? 0.2
    outcome = random.chance(takes) ? "accepted" : "declined"
    m.rows.answers.push([first.id, step.id, outcome, new Date(now)])
    if (outcome === "accepted") {
      const { tax, zone } = m.shelf.rules
      const plan = planOf(offer.terms[0]!.terms, { currency: offer.currency, tax, zone, start: now })
      if (!needsCard(plan)) throw new Error(`${offer.publicName} asks for no card`)
      const order = putOrder(m, {
        way,
        b,
        at: now,
        lines: [{ offer, plan, role: "further" }],
        step: step.id,
        first: first.id,
        coupon: null,
        state: "paid",
        wording: "",
        card,
      })
      way.paid += order.today.gross
    } else
      m.rows.facts.push(
        fact("declined", now, { person: b.id, funnel: funnel.id, step: step.id, subject: first.id, words: step.name }),
      )
    from = step
    step = streamTo(funnel, from.id, outcome)
    now += random.between(0.05, 0.3) * minute
  }
  if (!step || now > m.now) return
  arrive(m, way, step.id, now, outcome)
  const opens = now + random.between(0.3, 6) * minute
  const learning = streamTo(funnel, step.id, "started")
  if (!learning || opens > m.now || !random.chance(0.88)) return
  arrive(m, way, learning.id, opens, "started")
  const course = funnel.courses.find((c) => c.id === courseAt(learning))
  if (course) learn(m, b, course, opens)
}

/**
 * What somebody does in the Year, a month after the other as it opens to them: a third keep pace, a third fall behind and come no
 * further, the others look at the beginning.
 */
function learn(m: Make, b: Buyer, course: CourseCard, first: number): void {
  const { rows, random } = m
  const admission = rows.admissions.findLast((a) => a[0] === b.id && a[1] === course.id)
  if (!admission) return
  const [from, until] = [
    (admission[5] as Date).getTime(),
    (admission[6] as Date | null)?.getTime() ?? Number.POSITIVE_INFINITY,
  ]
  const kind = random()
  const months = kind < 0.34 ? course.lessons.length : kind < 0.7 ? 1 + Math.floor(random() * 5) : 1
  for (const [i, lesson] of course.lessons.slice(0, months).entries()) {
    const opens = i === 0 ? first : daysAfter(from, 30 * i, "06:00", b.zone) + random.between(0.1, 8) * day
    const done = opens + random.between(6, 60) * minute
    if (done > m.now || done > until) return
    rows.facts.push(
      fact("lesson-opened", opens, {
        once: `opened:${b.id}:${lesson.id}`,
        person: b.id,
        subject: lesson.id,
        words: lesson.title,
      }),
    )
    if (kind > 0.7 && random.chance(0.4)) return
    rows.done.push([b.id, lesson.id, new Date(done)])
    rows.facts.push(
      fact("lesson-done", done, {
        once: `done:${b.id}:${lesson.id}`,
        person: b.id,
        subject: lesson.id,
        words: lesson.title,
      }),
    )
  }
}

/** Began to pay, agreed to be written to, and stopped: the two e-mails about it. */
function stopped(m: Make, way: Way, b: Buyer, at: number, wording: string): void {
  const { rows, funnel, random } = m
  const sequence = funnel.sequences[0]!
  putPerson(m, b, at, way.source, false)
  way.person = b.id
  rows.consents.push([b.id, "given", new Date(at), new Date(at - 3_600_000), wording, "192.0.2.9", "checkout"])
  const enrolment = ++m.next.enrolment
  let from = at
  let ended: number | null = null
  let waits: { readonly mail: number; readonly since: number } | null = null
  for (const [i, mail] of sequence.mails.entries()) {
    const due = nextDue(from, mail, b.zone)
    const sent = due <= m.now ? Math.round(due + random.between(0.3, 4) * 1000) : null
    rows.mails.push([
      ++m.next.mail,
      `sequence:${enrolment}:${mail.id}`,
      "sequence",
      b.id,
      b.email,
      b.name,
      funnel.id,
      enrolment,
      mail.id,
      null,
      sent ? "sent" : "due",
      new Date(due),
      new Date(0),
      sent && new Date(sent),
      sent ? mail.subject : null,
      null,
    ])
    if (!sent) {
      waits = { mail: mail.id, since: from }
      break
    }
    rows.facts.push(
      fact("mailed", sent, {
        once: `mailed:${m.next.mail}`,
        person: b.id,
        funnel: funnel.id,
        subject: m.next.mail,
        words: mail.subject,
      }),
    )
    from = sent
    if (i === sequence.mails.length - 1) ended = sent
  }
  rows.facts.push(
    fact("sequence-begun", at, { person: b.id, funnel: funnel.id, subject: sequence.id, words: sequence.name }),
  )
  rows.enrolments.push([
    enrolment,
    b.id,
    sequence.id,
    funnel.id,
    new Date(at),
    ended && new Date(ended),
    ended && "finished",
    waits && waitFor(waits.mail),
    waits && new Date(waits.since),
  ])
}

function randomCode(random: Seeded): string {
  const letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-_"
  return Array.from({ length: 22 }, () => letters[Math.floor(random() * 64)]).join("")
}
