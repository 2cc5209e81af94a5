// What is held back of what is due: while something is paused, and by the school's sending rules. What somebody asked for goes always.
import * as v from "valibot"
import { grouped } from "@/core/group"
import {
  decideAll,
  noSendingRules,
  ranks,
  type SendDecision,
  type SendingRules,
  sendingRulesSchema,
} from "@/core/mail/sending-rules"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { DueMail } from "../port/letter"
import { ok, refusal, type Saved } from "../saved"

export type Sorted = { readonly send: readonly DueMail[]; readonly leftOut: readonly DueMail[] }

const day = 86_400_000

/** The school's manners, and since when everything is paused (ms of business time; null: it isn't). */
export async function readSendingRules(
  db: Db,
): Promise<{ readonly rules: SendingRules; readonly paused: number | null }> {
  const row = await db.row<{ manners: string | null; paused: Date | null }>(
    "SELECT manners, mail_paused_at AS paused FROM school WHERE id = 1",
  )
  return {
    rules: row?.manners ? v.parse(sendingRulesSchema, JSON.parse(row.manners)) : noSendingRules,
    paused: row?.paused?.getTime() ?? null,
  }
}

export async function saveSendingRules(s: Context, typed: unknown): Promise<Saved> {
  const read = v.safeParse(sendingRulesSchema, typed)
  if (!read.success) return refusal(read.issues)
  await s.db.write("UPDATE school SET manners = ? WHERE id = 1", [JSON.stringify(read.output)])
  return ok
}

/** Why something is paused for a mail that is due, or null. */
function pausedBy(m: DueMail, all: boolean): string | null {
  if (m.goes === null) return null
  if (all) return "paused-all"
  if (m.person_paused) return "paused-person"
  if (m.sequence_state === "paused") return "paused-sequence"
  return m.broadcast_state === "paused" ? "paused-broadcast" : null
}

/** Tells what of these goes now; what doesn't is let go of, to be due later. They are of one claim. */
export async function sortOut(s: Context, all: readonly DueMail[]): Promise<Sorted> {
  const at = await s.clock.now()
  const late = all.filter((m) => m.not_after !== null && m.not_after.getTime() <= at)
  const claimed = late.length ? all.filter((m) => !late.includes(m)) : all
  if (claimed.every((m) => m.goes === null)) return { send: claimed, leftOut: late }
  const { rules, paused } = await readSendingRules(s.db)
  const stopped = claimed.flatMap((mail) => {
    const why = pausedBy(mail, paused !== null)
    return why ? [{ mail, why }] : []
  })
  const kept = new Set(stopped.map((x) => x.mail))
  const free = claimed.filter((m) => !kept.has(m))
  const decisions = await decideFor(s, rules, free, at)
  const held = free.filter((m) => decisions.get(m.id)?.does === "hold")
  const leftOut = free.filter((m) => decisions.get(m.id)?.does === "leave-out")
  if (stopped.length || held.length || leftOut.length)
    await s.db.transaction(async (tx) => {
      await letGo(tx, stopped, at)
      await putOff(tx, held, decisions)
      await tx.insert(
        "mail_hold",
        leftOut.flatMap((m) => holdsOf(m.id, decisions.get(m.id))),
      )
    })
  return { send: free.filter((m) => (decisions.get(m.id)?.does ?? "send") === "send"), leftOut: [...late, ...leftOut] }
}

async function letGo(tx: Db, stopped: readonly { mail: DueMail; why: string }[], at: number): Promise<void> {
  if (!stopped.length) return
  await tx.write(
    "UPDATE mail SET state = 'held', claimed_by = NULL, try_at = '1970-01-01', wanted_at = COALESCE(wanted_at, due_at) WHERE id IN (?) AND claimed_by = ? AND state = 'due'",
    [stopped.map((x) => x.mail.id), stopped[0]!.mail.claimed_by],
  )
  await tx.insert(
    "mail_hold",
    stopped.map((x) => ({ mail_id: x.mail.id, from_at: new Date(at), until_at: null, why: x.why })),
  )
}

async function putOff(tx: Db, held: readonly DueMail[], decisions: ReadonlyMap<number, SendDecision>): Promise<void> {
  // Those of one instant together.
  for (const [until, together] of grouped(
    held,
    (m) => (decisions.get(m.id) as Extract<SendDecision, { does: "hold" }>).until,
  ))
    await tx.write(
      "UPDATE mail SET wanted_at = COALESCE(wanted_at, due_at), due_at = ?, claimed_by = NULL, try_at = ? WHERE id IN (?) AND claimed_by = ? AND state = 'due'",
      [new Date(until), new Date(0), together.map((m) => m.id), together[0]!.claimed_by],
    )
  await tx.insert(
    "mail_hold",
    held.flatMap((m) => holdsOf(m.id, decisions.get(m.id))),
  )
}

const holdsOf = (mail: number, d: SendDecision | undefined) =>
  d === undefined || d.does === "send"
    ? []
    : d.holds.map((h) => ({ mail_id: mail, from_at: new Date(h.from), until_at: new Date(h.until), why: h.why }))

/** What becomes of those that follow the sending rules, each person's together. */
async function decideFor(
  s: Context,
  rules: SendingRules,
  mails: readonly DueMail[],
  at: number,
): Promise<ReadonlyMap<number, SendDecision>> {
  const follow = mails.flatMap((m) =>
    m.person_id !== null && m.goes !== null && m.goes !== "asked" ? [{ ...m, person: m.person_id, rank: m.goes }] : [],
  )
  const decisions = new Map<number, SendDecision>()
  if (!follow.length) return decisions
  const limited = rules.perDay !== null || rules.perWeek !== null
  const ids = follow.map((m) => m.id)
  const people = [...new Set(follow.map((m) => m.person))]
  // What another worker has in hand counts as sent; of two that hold one each, the lower number goes first.
  const gone = limited
    ? await s.db.rows<{ person: number; id: number; at: Date | null; sure: number }>(
        `SELECT person_id AS person, id, sent_at AS at, state IN ('sent', 'unsure', 'sending') AS sure FROM mail WHERE person_id IN (?) AND goes IN (?) AND id NOT IN (?)
           AND ((state = 'sent' AND sent_at > ?) OR state = 'sending' OR (state = 'unsure' AND due_at > ?) OR (state = 'due' AND claimed_by IS NOT NULL AND try_at > ?))`,
        [people, ranks, ids, new Date(at - 8 * day), new Date(at - 8 * day), new Date()],
      )
    : []
  for (const [person, theirs] of grouped(follow, (m) => m.person)) {
    const first = Math.min(...theirs.map((m) => m.id))
    const sent = gone.filter((g) => g.person === person && (g.sure || g.id < first)).map((g) => g.at?.getTime() ?? at)
    const waiting = theirs.map((m) => ({ id: m.id, rank: m.rank, wanted: (m.wanted_at ?? m.due_at).getTime() }))
    for (const [id, d] of decideAll(rules, waiting, at, theirs[0]!.zone ?? "UTC", sent)) decisions.set(id, d)
  }
  return decisions
}

/** Nothing of sequences and broadcasts is sent any more, or it goes on: for everybody, or for one person. */
export async function pauseMail(s: Context, person: number | null): Promise<Saved> {
  const at = new Date(await s.clock.now())
  if (person === null)
    await s.db.write("UPDATE school SET mail_paused_at = COALESCE(mail_paused_at, ?) WHERE id = 1", [at])
  else await s.db.write("UPDATE person SET mail_paused_at = COALESCE(mail_paused_at, ?) WHERE id = ?", [at, person])
  return ok
}

/** What was held is due; what is still paused otherwise is held again. */
export async function resumeMail(s: Context, person: number | null): Promise<Saved> {
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    if (person === null) await tx.write("UPDATE school SET mail_paused_at = NULL WHERE id = 1")
    else await tx.update("person", person, { mail_paused_at: null })
    await release(tx, person === null ? "TRUE" : "m.person_id = ?", person === null ? [] : [person], at)
  }, 120_000)
  return ok
}

/** What is held of these is due now. `m` is the mail, `n` the enrolment it is of. */
export async function release(tx: Db, where: string, values: readonly unknown[], at: number): Promise<void> {
  const enrolled = "LEFT JOIN enrolment n ON n.id = m.enrolment_id"
  await tx.write(
    `UPDATE mail_hold h JOIN mail m ON m.id = h.mail_id ${enrolled} SET h.until_at = ? WHERE h.until_at IS NULL AND m.state = 'held' AND ${where}`,
    [new Date(at), ...values],
  )
  await tx.write(
    `UPDATE mail m ${enrolled} SET m.state = 'due', m.due_at = GREATEST(m.due_at, ?) WHERE m.state = 'held' AND ${where}`,
    [new Date(at), ...values],
  )
}
