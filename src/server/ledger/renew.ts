// What goes on being charged: due plans are claimed, charged under a key of their own, and moved on; and what buyers do
// with their plans.

import { chargeAt } from "@/core/offer/plan"
import { readPlan } from "@/core/offer/plan-document"
import { sentence } from "@/core/offer/sentence"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import type { Due } from "../due"
import { happen } from "../happen"
import type { Refused } from "../saved"
import { endAccess } from "./access"
import { advancePlan, cardRow, chargeKey, pay } from "./charge"

const claimSize = 50
/** Charged at once by one worker. */
const lanes = 8

/** Charges what is due now, until nothing is; gives how many charges were handed over. */
export async function renewDue(s: Context): Promise<number> {
  if (!s.cards) return 0
  let total = 0
  for (;;) {
    const due = await claim(s)
    if (!due.length) return total
    const waiting = [...due]
    const lane = async () => {
      for (let next = waiting.shift(); next; next = waiting.shift()) await pay(s, next.charge, next.card, false)
    }
    await Promise.all(Array.from({ length: lanes }, lane))
    total += due.length
  }
}

type Claimed = { charge: number; card: string }

async function claim(s: Context): Promise<Claimed[]> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx) => {
    const plans = await tx.rows<
      Pick<Row<"plan">, "id" | "order_id" | "person_id" | "next_n" | "failed" | "state"> &
        Pick<Row<"order_line">, "name" | "offer_id" | "plan"> & { reference: string | null; currency: string }
    >(
      `SELECT p.id, p.order_id, p.person_id, l.name, l.offer_id, p.next_n, p.failed, p.state, l.plan, o.currency, k.reference FROM plan p JOIN order_line l ON l.id = p.order_line_id
       JOIN orders o ON o.id = p.order_id LEFT JOIN card k ON k.id = p.card_id
       WHERE p.state IN ('running', 'behind') AND p.try_at <= ? AND (p.claimed_until IS NULL OR p.claimed_until < ?) ORDER BY p.try_at, p.id LIMIT ? FOR UPDATE SKIP LOCKED`,
      [new Date(at), new Date(), claimSize],
    )
    const due: Claimed[] = []
    for (const p of plans) {
      const charge = chargeAt(readPlan(p.plan), p.next_n)
      if (!charge || charge.gross === 0) {
        await advancePlan(tx, p, at)
        continue
      }
      await tx.update("plan", p.id, { claimed_until: new Date(Date.now() + s.config.leaseMs) })
      const made = await tx.insert(
        "charge",
        {
          once: `plan-${p.id}-${p.next_n}-${p.failed}`,
          order_id: p.order_id,
          plan_id: p.id,
          n: p.next_n,
          state: "sending",
          net: charge.net,
          tax: charge.tax,
          gross: charge.gross,
          currency: p.currency,
          at: new Date(at),
          ask_at: new Date(Date.now() + s.config.leaseMs),
        },
        "ignore",
      )
      // One that is there already was in a worker's hands that died: recovery asks how it stands.
      if (made.affected && p.reference) due.push({ charge: made.id, card: p.reference })
    }
    return due
  })
}

export const renewals: Due = {
  name: "renewals",
  nextAt: async (s) => (s.cards ? nextRenewalDue(s.db) : null),
  waits: (s, at) =>
    s.cards
      ? [
          [
            "SELECT 1 FROM plan WHERE state IN ('running', 'behind') AND try_at <= ? AND (claimed_until IS NULL OR claimed_until < ?)",
            [at.business, at.real],
          ],
        ]
      : [],
  run: renewDue,
  inHand: async (s) =>
    (await s.db.row("SELECT 1 FROM plan WHERE claimed_until > ? LIMIT 1", [new Date()])) !== undefined,
}

/** The next instant at which a plan falls due (ms of business time), or null. */
async function nextRenewalDue(db: Db): Promise<number | null> {
  const next = await db.row<{ try_at: Date }>(
    "SELECT try_at FROM plan WHERE state IN ('running', 'behind') AND (claimed_until IS NULL OR claimed_until < ?) ORDER BY try_at LIMIT 1",
    [new Date()],
  )
  return next ? next.try_at.getTime() : null
}

export type MyPlan = {
  readonly id: number
  readonly name: string
  readonly state: "running" | "behind" | "ended" | "finished"
  readonly says: string
  readonly nextDay: string | null
  readonly nextAmount: number
  readonly currency: string
  readonly card: { readonly last4: string; readonly expires: string } | null
  readonly endless: boolean
  readonly endedWhy: string | null
}

/** The plans of a person, those that run first. */
export async function myPlans(db: Db, person: number): Promise<MyPlan[]> {
  const rows = await db.rows<
    Pick<Row<"plan">, "id" | "next_n" | "ended_why"> &
      Pick<Row<"order_line">, "name" | "plan"> & {
        state: MyPlan["state"]
        last4: string | null
        expires: string | null
      }
  >(
    `SELECT p.id, l.name, p.state, l.plan, p.next_n, k.last4, k.expires, p.ended_why FROM plan p JOIN order_line l ON l.id = p.order_line_id LEFT JOIN card k ON k.id = p.card_id
     WHERE p.person_id = ? ORDER BY FIELD(p.state, 'behind', 'running', 'finished', 'ended'), p.id DESC LIMIT 100`,
    [person],
  )
  return rows.map((r) => {
    const plan = readPlan(r.plan)
    const next = r.state === "running" || r.state === "behind" ? chargeAt(plan, r.next_n) : null
    return {
      id: r.id,
      name: r.name,
      state: r.state,
      says: sentence([plan]),
      nextDay: next?.day ?? null,
      nextAmount: next?.gross ?? 0,
      currency: plan.currency,
      card: r.last4 ? { last4: r.last4, expires: r.expires ?? "" } : null,
      endless: plan.recurring?.times === null,
      endedWhy: r.ended_why,
    }
  })
}

/**
 * Ends a plan without an end: nothing more is charged, and what was paid for stays open until the next charge would have
 * come. Instalments can't be ended by the buyer: what they bought is theirs already.
 */
export async function endPlan(s: Context, person: number, plan: number): Promise<{ ok: true } | Refused> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx) => {
    const p = await tx.row<
      Pick<Row<"plan">, "id" | "order_id" | "order_line_id" | "state" | "next_due"> &
        Pick<Row<"order_line">, "plan" | "name" | "offer_id">
    >(
      "SELECT p.id, p.order_id, p.order_line_id, p.state, p.next_due, l.plan, l.name, l.offer_id FROM plan p JOIN order_line l ON l.id = p.order_line_id WHERE p.id = ? AND p.person_id = ? FOR UPDATE",
      [plan, person],
    )
    if (!p) return { refused: refusals.gone.plan }
    if (p.state !== "running" && p.state !== "behind") return { ok: true as const }
    if (readPlan(p.plan).recurring?.times !== null)
      return {
        refused: refusals.plan.instalments,
      }
    await tx.update("plan", plan, { state: "ended", ended_at: new Date(at), ended_why: "ended by the buyer" })
    const until = Math.max(at, p.state === "behind" ? at : p.next_due.getTime())
    await endAccess(tx, { order: p.order_id, line: p.order_line_id, person, at, until })
    await happen(tx, [
      {
        kind: "plan-ended",
        at,
        once: `plan-ended:${plan}`,
        person,
        subject: p.order_id,
        words: `${p.name}: ended by the buyer`,
        data: { offers: [p.offer_id] },
      },
    ])
    return { ok: true as const }
  })
}

/** Another card for a plan; one that is behind is charged again at once. */
export async function changeCard(
  s: Context,
  person: number,
  plan: number,
  token: string,
): Promise<{ ok: true } | Refused> {
  const mine = await s.db.row("SELECT 1 FROM plan WHERE id = ? AND person_id = ? AND state IN ('running', 'behind')", [
    plan,
    person,
  ])
  if (!mine || !s.cards) return { refused: refusals.gone.planRuns }
  if (!/^tok_[\w-]{8,40}$/.test(token)) return { refused: refusals.plan.cardUnread }
  const at = await s.clock.now()
  const kept = await s.cards.keep(chargeKey(s, `plan-${plan}-${token}`), token).catch(() => null)
  if (!kept) return { refused: refusals.plan.noAnswer }
  if ("reason" in kept) return { refused: refusals.plan.card }
  await s.db.transaction(async (tx) => {
    const card = await cardRow(tx, kept.card)
    await tx.write("UPDATE plan SET card_id = ?, try_at = IF(state = 'behind', ?, try_at) WHERE id = ?", [
      card,
      new Date(at),
      plan,
    ])
    await happen(tx, [{ kind: "card-changed", at, person, words: `card ending in ${kept.card.last4}` }])
  })
  return { ok: true }
}
