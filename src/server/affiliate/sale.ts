// A sale, and whose mention counts for it: decided once, when it is bought, with the whole chain kept; given to another by hand
// while nothing of it has been paid out.

import { Temporal } from "temporal-polyfill"
import * as v from "valibot"
import { type Attribution, attribute, type Bar, type Mention, mentionCounts } from "@/core/affiliate/attribution"
import { programmeRuns, termsFor } from "@/core/affiliate/programme"
import { decisionText } from "@/core/affiliate/words"
import { chargeCount } from "@/core/offer/plan"
import { readPlan } from "@/core/offer/plan-document"
import { actorText } from "@/core/person/actor"
import { connectionOf } from "@/core/person/connection"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { type ProgrammeSet, programmesOf } from "../programme/programme"
import { id, ok, refusal, type Saved } from "../saved"
import { schoolZone } from "../school-view"
import { type Listener, oneByOne } from "../tx-context"
import { affiliateNames, readRate } from "./affiliate"
import { giveBonuses } from "./bonus"
import { reverseAll, settleOrder, sumCommissionUp } from "./commission"
import { attachMentions, chainOf } from "./mention"
import { affiliateRules, oneAtATime } from "./rules"

type OrderRow = {
  id: number
  first_id: number | null
  visitor: Buffer
  person_id: number
  canonical: string
  coupon_id: number | null
  card_id: number | null
  ip: string
}
type LineRow = { id: number; offer_id: number; role: "main" | "bump" | "further"; plan: string }

const anyProgramme = (tx: Db) => tx.row("SELECT 1 FROM programme LIMIT 1")

/** Whoever bought: whose mention counts, what comes with it, and what is earned by it. */
export const countSale: Listener = {
  to: ["bought"],
  hear: oneByOne(async (tx, h) => {
    if (!h.subject || !(await anyProgramme(tx))) return
    const order = await tx.row<OrderRow>(
      "SELECT id, first_id, visitor, person_id, canonical, coupon_id, card_id, ip FROM orders WHERE id = ?",
      [h.subject],
    )
    if (!order) return
    await attachMentions(tx, order.visitor, order.person_id)
    const lines = await tx.rows<LineRow>(
      "SELECT id, offer_id, role, plan FROM order_line WHERE order_id = ? ORDER BY id",
      [order.id],
    )
    const story = order.first_id ?? order.id
    if (order.first_id === null) await decideSale(tx, order, lines, h.at)
    else await addToSale(tx, story, lines)
    await giveBonuses(tx, { story, order: order.id, person: order.person_id, at: h.at })
    await settleOrder(tx, order.id, h.at)
  }),
}

/** A plan was charged, or something was given back: commission follows. */
export const followCharges: Listener = {
  to: ["charged", "refunded"],
  hear: oneByOne(async (tx, h) => {
    if (h.subject) await settleOrder(tx, h.subject, h.at)
  }),
}

/** Whoever joins keeps what their device was shown; for whom the join counts is told by the same rule as a sale. */
export const countJoin: Listener = {
  to: ["joined"],
  hear: oneByOne(async (tx, h) => {
    if (!h.person || !h.device || !(await anyProgramme(tx))) return
    await attachMentions(tx, h.device, h.person)
    const chain = await chainOf(tx, { visitor: h.device, person: h.person })
    if (!chain.length) return
    const rules = await affiliateRules(tx)
    const who = await standingOf(tx, chain, [])
    const person = h.person
    const wins = mentionCounts(
      attribute(chain, rules.mention, h.at, (a) => {
        const standing = who.get(a)
        return standing?.person === person ? "own" : standing ? standing.bar : "ended"
      }),
    )
    if (!wins) return
    const made = await tx.insert(
      "affiliate_join",
      { person_id: person, affiliate_id: wins.affiliate, sub: wins.sub, at: new Date(h.at) },
      "ignore",
    )
    if (!made.affected) return
    const name = (await affiliateNames(tx, [wins.affiliate]))(wins.affiliate)
    await happen(tx, { kind: "recommended", at: h.at, person, subject: wins.affiliate, words: name })
  }),
}

type Standing = {
  readonly person: number | null
  readonly bar: "ended" | null
  readonly broughtBy: number | null
  /** Own rates, by the programme they take part in. */
  readonly parts: ReadonlyMap<number, string | null>
}

/** How those who were mentioned stand, towards these programmes. */
async function standingOf(
  tx: Db,
  chain: readonly Mention[],
  offers: readonly number[],
): Promise<Map<number, Standing>> {
  const ids = [0, ...new Set(chain.map((m) => m.affiliate))]
  const rows = await tx.rows<{ id: number; person_id: number | null; state: string; brought_by_id: number | null }>(
    "SELECT id, person_id, state, brought_by_id FROM affiliate WHERE id IN (?)",
    [ids],
  )
  const parts = await tx.rows<{ affiliate_id: number; offer_id: number; rate: string | null }>(
    `SELECT i.affiliate_id, i.offer_id, i.rate FROM affiliate_part i JOIN programme p ON p.offer_id = i.offer_id
     WHERE i.affiliate_id IN (?) AND i.offer_id IN (?) AND (p.conditions_version = 0 OR i.agreed_version > 0)`,
    [ids, [0, ...offers]],
  )
  return new Map(
    rows.map((r) => [
      r.id,
      {
        person: r.person_id,
        bar: r.state === "active" && r.person_id !== null ? null : "ended",
        broughtBy: r.brought_by_id,
        parts: new Map(parts.filter((p) => p.affiliate_id === r.id).map((p) => [p.offer_id, p.rate])),
      } satisfies Standing,
    ]),
  )
}

async function decideSale(tx: Db, order: OrderRow, lines: readonly LineRow[], at: number): Promise<void> {
  const chain = await chainOf(tx, { visitor: order.visitor, person: order.person_id })
  const coupon = await tx.row<{ affiliate_id: number | null }>("SELECT affiliate_id FROM coupon WHERE id = ?", [
    order.coupon_id ?? 0,
  ])
  if (coupon?.affiliate_id) chain.push({ affiliate: coupon.affiliate_id, kind: "coupon", at, sub: "" })
  if (!chain.length) return
  // What brings no money is no sale.
  if (!lines.some((l) => brings(l.plan))) return
  const offers = lines.map((l) => l.offer_id)
  const programmes = await programmesOf(tx, offers)
  const running = new Map([...programmes].filter(([, p]) => programmeRuns(p, at)))
  const who = await standingOf(tx, chain, [...running.keys()])
  const own = await ownTo(tx, order, [...who.keys()])
  const rules = await affiliateRules(tx)
  const decision = attribute(chain, rules.mention, at, (a): Bar | null => {
    const standing = who.get(a)
    if (!standing || standing.bar) return "ended"
    if (own.has(a)) return "own"
    if (!running.size) return "programme-off"
    return standing.parts.size ? null : "not-in"
  })
  const wins = mentionCounts(decision)
  const second = wins ? await secondOf(tx, wins.affiliate, order) : null
  const place = wins ? await placeOf(tx, wins.affiliate, at) : 0
  const made = await tx.insert(
    "sale",
    {
      order_id: order.id,
      affiliate_id: wins?.affiliate ?? null,
      second_id: second,
      at: new Date(at),
      sub: wins?.sub ?? "",
      offer_id: lines.find((l) => l.role === "main")?.offer_id ?? null,
      connection: order.ip && connectionOf(order.ip),
      decision: JSON.stringify(decision),
      place,
    },
    "ignore",
  )
  if (!made.affected) return
  const names = await affiliateNames(
    tx,
    decision.chain.map((m) => m.affiliate),
  )
  await happen(tx, {
    kind: "sale-counted",
    at,
    once: `sale-counted:${order.id}`,
    person: order.person_id,
    subject: order.id,
    words: decisionText(decision, names, await schoolZone(tx)),
  })
  if (wins) await writeTerms(tx, order.id, wins.affiliate, place, lines, running)
}

const brings = (plan: string) => {
  const n = chargeCount(readPlan(plan))
  return n === null || n > 0
}

/** What was accepted later in a story that counts for somebody: on the terms of its own programme, or of the first. */
async function addToSale(tx: Db, story: number, lines: readonly LineRow[]): Promise<void> {
  const sale = await tx.row<{ affiliate_id: number | null; place: number; at: Date }>(
    "SELECT affiliate_id, place, at FROM sale WHERE order_id = ? FOR UPDATE",
    [story],
  )
  if (!sale?.affiliate_id) return
  const first = await tx.rows<{ offer_id: number }>("SELECT offer_id FROM order_line WHERE order_id = ?", [story])
  const programmes = await programmesOf(
    tx,
    [...first, ...lines].map((l) => l.offer_id),
  )
  const at = sale.at.getTime()
  await writeTerms(
    tx,
    story,
    sale.affiliate_id,
    sale.place,
    lines,
    new Map([...programmes].filter(([, p]) => programmeRuns(p, at))),
  )
}

/** What was agreed for each line, as it stands now: it stays so, whatever is changed later. */
async function writeTerms(
  tx: Db,
  story: number,
  affiliate: number,
  place: number,
  lines: readonly LineRow[],
  running: ReadonlyMap<number, ProgrammeSet>,
): Promise<void> {
  const parts = new Map(
    (
      await tx.rows<{ offer_id: number; rate: string | null }>(
        "SELECT offer_id, rate FROM affiliate_part WHERE affiliate_id = ?",
        [affiliate],
      )
    ).map((r) => [r.offer_id, r.rate]),
  )
  const main = await tx.row<{ offer_id: number }>(
    "SELECT offer_id FROM order_line WHERE order_id = ? AND role = 'main' LIMIT 1",
    [story],
  )
  const rows = lines.flatMap((l) => {
    const ownProgramme = parts.has(l.offer_id) ? running.get(l.offer_id) : undefined
    const mains = main && parts.has(main.offer_id) ? running.get(main.offer_id) : undefined
    const along = l.role === "bump" ? mains?.terms.bumps : l.role === "further" ? mains?.terms.further : false
    const p = ownProgramme ?? (along ? mains : undefined)
    if (!p) return []
    const terms = termsFor(p.terms, readRate(parts.get(p.offer) ?? null), place, ownProgramme ? "main" : l.role)
    return [[l.id, story, JSON.stringify(terms)]]
  })
  if (rows.length) await tx.write("REPLACE INTO sale_line (order_line_id, order_id, terms) VALUES ?", [rows])
}

/** The how manieth sale of an affiliate this is in its month, in the zone of the school. Others of theirs wait. */
async function placeOf(tx: Db, affiliate: number, at: number): Promise<number> {
  await tx.row("SELECT id FROM affiliate WHERE id = ? FOR UPDATE", [affiliate])
  const first = Temporal.Instant.fromEpochMilliseconds(at)
    .toZonedDateTimeISO(await schoolZone(tx))
    .with({ day: 1 })
    .startOfDay()
  const n = await tx.row<{ n: number }>(
    "SELECT COUNT(*) AS n FROM sale WHERE affiliate_id = ? AND at >= ? AND at < ?",
    [affiliate, new Date(first.epochMilliseconds), new Date(first.add({ months: 1 }).epochMilliseconds)],
  )
  return (n?.n ?? 0) + 1
}

/** Who brought the affiliate, where they are one still and it isn't their own purchase. */
async function secondOf(tx: Db, affiliate: number, order: OrderRow): Promise<number | null> {
  const row = await tx.row<{ id: number }>(
    "SELECT b.id FROM affiliate a JOIN affiliate b ON b.id = a.brought_by_id AND b.state = 'active' AND b.person_id IS NOT NULL WHERE a.id = ?",
    [affiliate],
  )
  if (!row) return null
  return (await ownTo(tx, order, [row.id])).has(row.id) ? null : row.id
}

/** An address without what its owner may put into it at will: what stands behind a plus, and dots before the @. Common practice. */
export function mailboxKey(canonical: string): string {
  const at = canonical.lastIndexOf("@")
  return `${canonical.slice(0, at).split("+")[0]!.replaceAll(".", "")}@${canonical.slice(at + 1)}`.toLowerCase()
}

/** Those of these affiliates whose own purchase this is: the same person, the same mailbox, or the same card at the processor. */
async function ownTo(tx: Db, order: OrderRow, affiliates: readonly number[]): Promise<ReadonlySet<number>> {
  if (!affiliates.length) return new Set()
  const rows = await tx.rows<{ id: number; person_id: number; canonical: string }>(
    "SELECT a.id, a.person_id, d.canonical FROM affiliate a JOIN address d ON d.person_id = a.person_id WHERE a.id IN (?)",
    [affiliates],
  )
  const own = new Set(
    rows
      .filter((r) => r.person_id === order.person_id || mailboxKey(r.canonical) === mailboxKey(order.canonical))
      .map((r) => r.id),
  )
  if (order.card_id === null) return own
  const cards = await tx.rows<{ id: number }>(
    `SELECT DISTINCT a.id FROM affiliate a JOIN orders o ON o.person_id = a.person_id JOIN card k ON k.id = o.card_id JOIN card mine ON mine.id = ?
     WHERE a.id IN (?) AND (k.id = mine.id OR k.fingerprint = mine.fingerprint)`,
    [order.card_id, affiliates],
  )
  for (const c of cards) own.add(c.id)
  return own
}

export const readDecision = (json: string): Attribution => JSON.parse(json) as Attribution

const moving = v.object({
  order: id,
  affiliate: v.nullable(id),
  why: v.pipe(v.string(), v.trim(), v.nonEmpty(refusals.affiliate.why), v.maxLength(200, refusals.value.longest(200))),
})

/**
 * Gives a sale to another affiliate, or to nobody, with a reason. Refused once any of its commission is in a payout. What
 * was earned is taken back from the one and earned by the other, on the programme's terms as they are now.
 */
export async function moveSale(s: Context, typed: unknown): Promise<Saved> {
  const read = v.safeParse(moving, typed)
  if (!read.success) return refusal(read.issues)
  const m = read.output
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    await oneAtATime(tx)
    const story = await tx.row<{ id: number; person_id: number | null; paid_at: Date | null; ip: string }>(
      "SELECT id, person_id, paid_at, ip FROM orders WHERE id = ? AND first_id IS NULL FOR UPDATE",
      [m.order],
    )
    if (!story?.paid_at) return { refused: refusals.gone.thing }
    await tx.write(
      "INSERT IGNORE INTO sale (order_id, affiliate_id, at, connection, decision, offer_id) SELECT ?, NULL, ?, ?, ?, MAX(offer_id) FROM order_line WHERE order_id = ? AND role = 'main'",
      [
        m.order,
        story.paid_at,
        story.ip && connectionOf(story.ip),
        JSON.stringify({ at: story.paid_at.getTime(), rule: (await affiliateRules(tx)).mention, chain: [] }),
        m.order,
      ],
    )
    const sale = (await tx.row<{ affiliate_id: number | null; at: Date; moves: number }>(
      "SELECT affiliate_id, at, moves FROM sale WHERE order_id = ? FOR UPDATE",
      [m.order],
    ))!
    if (sale.affiliate_id === m.affiliate) return { refused: refusals.affiliate.sameAffiliate, field: "affiliate" }
    if (
      await tx.row(
        "SELECT 1 FROM commission c JOIN payout_line l ON l.commission_id = c.id WHERE c.order_id = ? LIMIT 1",
        [m.order],
      )
    )
      return { refused: refusals.affiliate.paidOut }
    if (m.affiliate !== null) {
      const to = await tx.row<{ state: string }>("SELECT state FROM affiliate WHERE id = ?", [m.affiliate])
      if (to?.state !== "active") return { refused: refusals.affiliate.notActive, field: "affiliate" }
    }
    await reverseAll(tx, m.order, at)
    const place = m.affiliate === null ? 0 : await placeOf(tx, m.affiliate, sale.at.getTime())
    await tx.write(
      "UPDATE sale SET affiliate_id = ?, second_id = NULL, sub = '', place = ?, moves = moves + 1, moved_why = ?, moved_by = ?, moved_at = ? WHERE order_id = ?",
      [m.affiliate, place, m.why, actorText(s.actor), new Date(at), m.order],
    )
    await tx.write("DELETE FROM sale_line WHERE order_id = ?", [m.order])
    const orders = await tx.rows<{ id: number }>("SELECT id FROM orders WHERE id = ? OR first_id = ? ORDER BY id", [
      m.order,
      m.order,
    ])
    const names = await affiliateNames(tx, [m.affiliate ?? 0, sale.affiliate_id ?? 0])
    await happen(tx, {
      kind: "sale-moved",
      at,
      person: story.person_id,
      subject: m.order,
      words: `${m.affiliate === null ? "nobody" : names(m.affiliate)}: ${m.why}`,
    })
    if (m.affiliate === null) {
      await sumCommissionUp(tx, m.order)
      return ok
    }
    for (const o of orders) {
      const lines = await tx.rows<LineRow>("SELECT id, offer_id, role, plan FROM order_line WHERE order_id = ?", [o.id])
      const first = await tx.rows<{ offer_id: number }>("SELECT offer_id FROM order_line WHERE order_id = ?", [m.order])
      // By hand it counts whether the programme runs now or not.
      const programmes = await programmesOf(
        tx,
        [...first, ...lines].map((l) => l.offer_id),
      )
      await tx.write(
        "INSERT IGNORE INTO affiliate_in (affiliate_id, offer_id) SELECT ?, offer_id FROM programme WHERE offer_id IN (?)",
        [m.affiliate, [0, ...programmes.keys()]],
      )
      await writeTerms(tx, m.order, m.affiliate, place, lines, programmes)
      await settleOrder(tx, o.id, at)
    }
    return ok
  })
}
