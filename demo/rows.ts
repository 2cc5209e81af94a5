// Bulk rows of the demo, with the meaning that the use cases give them: who they are, what they did, what it came to.
import type { Device } from "@/core/device"
import type { Db } from "@/server/db/pool"
import { onceKey } from "@/server/happen"

export type Row = unknown[]

const inserts = {
  persons: "person (id, name, email, zone, joined_at, source, searched)",
  addresses: "address (id, person_id, email, canonical, confirmed_at, suppressed, suppressed_at, suppressed_why)",
  consents: "consent (address_id, kind, at, asked_at, wording, ip, page)",
  journeys: "journey (funnel_id, visitor, person_id, source, begun_at, rest_step_id, rest_at, paid, device)",
  cards: "card (id, reference, last4, expires)",
  orders:
    "orders (id, code, once, first_id, state, funnel_id, release_id, step_id, visitor, source, person_id, canonical, email, name, zone, wording, coupon_id, currency, net, tax, gross, sentence, card_id, made_at, paid_at, hold_until, stopped_at)",
  lines: "order_line (id, order_id, offer_id, role, name, plan, gross)",
  plans:
    "plan (id, order_line_id, order_id, person_id, card_id, state, next_n, next_due, try_at, failed, ended_at, ended_why)",
  charges:
    "charge (id, once, order_id, plan_id, n, state, net, tax, gross, currency, refunded, payment, reason, at, settled_at, ask_at)",
  refunds: "refund (id, once, charge_id, amount, state, access, why, at, try_at)",
  answers: "answer (order_id, step_id, said, at)",
  journal: "journal (once, at, order_id, charge_id, account, amount, currency, recorded_at)",
  admissions: "admission (person_id, course_id, media_id, origin, order_id, from_at, until_at)",
  tags: "person_tag (person_id, tag_id, at, joined_at)",
  enrolments: "enrolment (id, person_id, sequence_id, funnel_id, begun_at, ended_at, ended_why, step, arrived_at)",
  mails:
    "mail (id, once, kind, person_id, to_email, to_name, funnel_id, enrolment_id, sequence_mail_id, order_id, state, due_at, try_at, sent_at, subject, trouble)",
  done: "lesson_done (person_id, lesson_id, at)",
  facts:
    "fact (once, at, recorded_at, kind, person_id, funnel_id, visitor, step_id, from_step_id, outcome, via, source, begun_at, subject_id, words, money)",
} as const

export type Rows = Record<keyof typeof inserts, Row[]>

export function noRows(): Rows {
  return Object.fromEntries(Object.keys(inserts).map((k) => [k, []])) as unknown as Rows
}

export type FactParts = {
  once?: string
  person?: number | null
  funnel?: number
  visitor?: Buffer
  step?: number
  from?: number | null
  outcome?: string | null
  via?: string
  source?: string
  begun?: Date
  subject?: number
  words?: string
  money?: number
}

export function fact(kind: string, at: number, f: FactParts): Row {
  return [
    f.once ? onceKey(f.once) : null,
    new Date(at),
    new Date(0),
    kind,
    f.person ?? null,
    f.funnel ?? null,
    f.visitor ?? null,
    f.step ?? null,
    f.from ?? null,
    f.outcome ?? null,
    f.via ?? null,
    f.source ?? null,
    f.begun ?? null,
    f.subject ?? null,
    f.words ?? null,
    f.money ?? 0,
  ]
}

/** Six of ten come by phone. */
const deviceOf = (visitor: Buffer): Device => (visitor[0]! < 154 ? "phone" : visitor[0]! < 172 ? "tablet" : "computer")

export async function writeRows(db: Db, rows: Rows): Promise<void> {
  rows.facts.sort((a, b) => (a[1] as Date).getTime() - (b[1] as Date).getTime())
  const journeys = rows.journeys.map((j) => [...j, deviceOf(j[1] as Buffer)])
  for (const [name, into] of Object.entries(inserts) as [keyof Rows, string][]) {
    const all = name === "journeys" ? journeys : rows[name]
    for (let i = 0; i < all.length; i += 1000) await db.write(`INSERT INTO ${into} VALUES ?`, [all.slice(i, i + 1000)])
  }
}

/**
 * Gives orders their numbers in the order of their time, as they would have got them; whoever is put down later, such as guests of a
 * webinar, bought in between. Gives the new number of each.
 */
export function numberOrders(rows: Rows): (old: number) => number {
  const made = (row: Row) => (row[23] as Date).getTime()
  rows.orders.sort((a, b) => made(a) - made(b) || Number(a[0]) - Number(b[0]))
  const numbers = new Map(rows.orders.map((row, i) => [row[0] as number, i + 1]))
  const of = (old: number) => numbers.get(old)!
  const put = (of_: readonly Row[], at: number) => {
    for (const row of of_) if (row[at] !== null) row[at] = of(row[at] as number)
  }
  put(rows.orders, 0)
  put(rows.orders, 3)
  for (const row of rows.orders) row[2] = `demo-${row[0]}`
  put(rows.lines, 1)
  put(rows.plans, 2)
  put(rows.charges, 2)
  for (const row of rows.charges) if (row[3] === null) row[1] = `order-${row[2]}-1`
  put(rows.answers, 0)
  put(rows.journal, 2)
  put(rows.admissions, 4)
  put(rows.mails, 9)
  for (const row of rows.mails)
    if (row[2] === "receipt") {
      row[1] = `receipt:${row[9]}`
      row[14] = `Receipt ${row[9]} from Juniper Crock`
    }
  const about = new Set(["bought", "declined", "refunded"])
  put(
    rows.facts.filter((row) => about.has(row[3] as string)),
    13,
  )
  return of
}

/** The step at which somebody waits for an e-mail of a plain series (see `stepsOfMails`). */
export const waitFor = (mail: number): number => 2 * mail - 1
