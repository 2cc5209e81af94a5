// A person's way through a sequence: begun by an outcome, one e-mail after the other, ended by the last or by leaving.
import type { Sequence, SequenceMail } from "@/core/funnel/draft"
import { nextDue } from "@/core/mail/schedule"
import type { Db } from "../db/pool"
import { record } from "../funnel/fact"

export async function beginSequence(
  tx: Db,
  b: { person: number; sequence: Sequence; release: number; funnel: number; at: number },
): Promise<void> {
  if (b.sequence.state !== "live" || b.sequence.mails.length === 0) return
  const exists = await tx.row("SELECT id FROM sequence WHERE id = ?", [b.sequence.id])
  if (!exists) return
  const made = await tx.write(
    "INSERT IGNORE INTO enrolment (person_id, sequence_id, release_id, begun_at) VALUES (?, ?, ?, ?)",
    [b.person, b.sequence.id, b.release, new Date(b.at)],
  )
  if (!made.affected) return
  await record(tx, [
    {
      kind: "sequence-begun",
      at: b.at,
      person: b.person,
      funnel: b.funnel,
      subject: b.sequence.id,
      words: b.sequence.name,
    },
  ])
  await queueNext(tx, {
    enrolment: made.id,
    person: b.person,
    funnel: b.funnel,
    sequence: b.sequence,
    index: 0,
    from: b.at,
  })
}

/** Queues the mail at this place of the sequence, or ends the enrolment where there is none. */
export async function queueNext(
  tx: Db,
  q: { enrolment: number; person: number; funnel: number; sequence: Sequence; index: number; from: number },
): Promise<void> {
  const mail: SequenceMail | undefined = q.sequence.mails[q.index]
  if (!mail) {
    const ended = await tx.write(
      "UPDATE enrolment SET ended_at = ?, ended_why = 'finished' WHERE id = ? AND ended_at IS NULL",
      [new Date(q.from), q.enrolment],
    )
    if (ended.affected)
      await record(tx, [
        {
          kind: "sequence-ended",
          at: q.from,
          person: q.person,
          subject: q.sequence.id,
          words: `${q.sequence.name}: finished`,
        },
      ])
    return
  }
  const person = await tx.row<{ name: string; email: string; zone: string }>(
    "SELECT name, email, zone FROM person WHERE id = ?",
    [q.person],
  )
  if (!person) return
  const due = nextDue(q.from, mail, person.zone)
  await tx.write(
    `INSERT IGNORE INTO mail (once, kind, person_id, to_email, to_name, funnel_id, enrolment_id, sequence_mail_id, position, due_at, try_at)
     VALUES (?, 'sequence', ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    [
      `sequence:${q.enrolment}:${mail.id}`,
      q.person,
      person.email,
      person.name,
      q.funnel,
      q.enrolment,
      mail.id,
      q.index,
      new Date(due),
      new Date(0),
    ],
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
  await record(
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
    "SELECT m.id, m.due_at, q.at_minute FROM mail m JOIN sequence_mail q ON q.id = m.sequence_mail_id WHERE m.person_id = ? AND m.state = 'due' AND m.claimed_by IS NULL AND m.kind = 'sequence' FOR UPDATE",
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
  await record(tx, [{ kind: "zone-changed", at: m.at, person: m.person, words: m.zone }])
}
