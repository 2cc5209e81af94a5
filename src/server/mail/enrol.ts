// A person's way through a sequence: begun by an outcome, one e-mail after the other, ended by the last or by leaving.
import type { Sequence, SequenceMail } from "@/core/funnel/draft"
import { nextDue } from "@/core/mail/schedule"
import type { Db } from "../db/pool"
import { happen } from "../happen"

export async function beginSequence(
  tx: Db,
  b: {
    person: number
    sequence: Sequence
    release: number
    funnel: number
    at: number
    /** Also for somebody who has come to its end before. */
    again?: boolean
  },
): Promise<void> {
  if (b.sequence.state !== "live" || b.sequence.mails.length === 0) return
  const exists = await tx.row("SELECT id FROM sequence WHERE id = ?", [b.sequence.id])
  if (!exists) return
  const last = await tx.row<{ run: number; ended_at: Date | null }>(
    "SELECT run, ended_at FROM enrolment WHERE person_id = ? AND sequence_id = ? ORDER BY run DESC LIMIT 1",
    [b.person, b.sequence.id],
  )
  // Nobody is on their way through the same sequence twice at a time.
  if (last && (!b.again || last.ended_at === null)) return
  const made = await tx.write(
    "INSERT IGNORE INTO enrolment (person_id, sequence_id, run, release_id, begun_at) VALUES (?, ?, ?, ?, ?)",
    [b.person, b.sequence.id, (last?.run ?? 0) + 1, b.release, new Date(b.at)],
  )
  if (!made.affected) return
  await happen(tx, [
    {
      kind: "sequence-begun",
      at: b.at,
      person: b.person,
      funnel: b.funnel,
      subject: b.sequence.id,
      words: b.sequence.name,
    },
  ])
  await queueNext(tx, [{ enrolment: made.id, sequence: b.sequence, index: 0 }], b.funnel, b.at)
}

export type Following = { readonly enrolment: number; readonly sequence: Sequence; readonly index: number }

/** Queues, for each of these enrolments that still runs, the mail at its place of the sequence; ends those where there is none. */
export async function queueNext(
  tx: Db,
  following: readonly Following[],
  funnel: number | null,
  from: number,
): Promise<void> {
  if (!following.length) return
  const running = await tx.rows<{ id: number; person: number; name: string; email: string; zone: string }>(
    "SELECT n.id, p.id AS person, p.name, p.email, p.zone FROM enrolment n JOIN person p ON p.id = n.person_id WHERE n.id IN (?) AND n.ended_at IS NULL",
    [following.map((f) => f.enrolment)],
  )
  const mails: unknown[][] = []
  const ended: { id: number; person: number; sequence: Sequence }[] = []
  for (const p of running) {
    const { sequence, index } = following.find((f) => f.enrolment === p.id)!
    const mail: SequenceMail | undefined = sequence.mails[index]
    if (!mail) {
      ended.push({ id: p.id, person: p.person, sequence })
      continue
    }
    const due = new Date(nextDue(from, mail, p.zone))
    mails.push([
      `sequence:${p.id}:${mail.id}`,
      "sequence",
      p.person,
      p.email,
      p.name,
      funnel,
      p.id,
      mail.id,
      index,
      due,
      new Date(0),
    ])
  }
  if (mails.length)
    await tx.write(
      "INSERT IGNORE INTO mail (once, kind, person_id, to_email, to_name, funnel_id, enrolment_id, sequence_mail_id, position, due_at, try_at) VALUES ?",
      [mails],
    )
  if (!ended.length) return
  await tx.write("UPDATE enrolment SET ended_at = ?, ended_why = 'finished' WHERE id IN (?)", [
    new Date(from),
    ended.map((e) => e.id),
  ])
  await happen(
    tx,
    ended.map((e) => ({
      kind: "sequence-ended",
      at: from,
      person: e.person,
      subject: e.sequence.id,
      words: `${e.sequence.name}: finished`,
    })),
  )
}

export async function endSequence(
  tx: Db,
  e: { person: number; sequence: number | null; why: string; at: number },
): Promise<void> {
  const running = await tx.rows<{ id: number; sequence_id: number; name: string }>(
    `SELECT n.id, n.sequence_id, q.name FROM enrolment n JOIN sequence q ON q.id = n.sequence_id
     WHERE n.person_id = ? AND n.ended_at IS NULL AND (? IS NULL OR n.sequence_id = ?) FOR UPDATE`,
    [e.person, e.sequence, e.sequence],
  )
  for (const r of running) {
    await tx.write("UPDATE enrolment SET ended_at = ?, ended_why = ? WHERE id = ?", [new Date(e.at), e.why, r.id])
    await tx.write("UPDATE mail SET state = 'cancelled' WHERE enrolment_id = ? AND state = 'due'", [r.id])
  }
  await happen(
    tx,
    running.map((r) => ({
      kind: "sequence-ended" as const,
      at: e.at,
      person: e.person,
      subject: r.sequence_id,
      words: `${r.name}: ${e.why}`,
    })),
  )
}

/** A person has moved: what is due at a time of their day is due at that time there. */
export async function moveZone(tx: Db, m: { person: number; zone: string; at: number }): Promise<void> {
  const old = await tx.row<{ zone: string }>("SELECT zone FROM person WHERE id = ? FOR UPDATE", [m.person])
  if (!old || old.zone === m.zone) return
  await tx.write("UPDATE person SET zone = ? WHERE id = ?", [m.zone, m.person])
  const due = await tx.rows<{ id: number; due_at: Date; at_minute: number | null }>(
    "SELECT m.id, m.due_at, q.at_minute FROM mail m JOIN sequence_mail q ON q.id = m.sequence_mail_id WHERE m.person_id = ? AND m.state = 'due' AND m.claimed_by IS NULL FOR UPDATE",
    [m.person],
  )
  for (const d of due) {
    if (d.at_minute === null) continue
    // The same morning, there: the first such time of day within the day around the old one, and never before now.
    const from = Math.max(m.at, d.due_at.getTime() - 43_200_000)
    await tx.write("UPDATE mail SET due_at = ? WHERE id = ?", [
      new Date(nextDue(from, { afterDays: 0, atMinute: d.at_minute }, m.zone)),
      d.id,
    ])
  }
  await happen(tx, [{ kind: "zone-changed", at: m.at, person: m.person, words: m.zone }])
}
