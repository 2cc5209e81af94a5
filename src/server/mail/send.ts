// Sending what is due. Rows are claimed with SKIP LOCKED, so that workers share; "sending" is committed before a
// message is handed over; what the server said is written after. Killed in between, a mail that somebody asked for goes
// out again under the same Message-ID, and any other is marked unsure, so that nobody gets it twice.

import { mostTries, pauseAfter, verdict } from "@/core/mail/delivery"
import { isSilenced, mailKinds } from "@/core/mail/kind/list"
import { type Db, isDatabaseDown } from "../db/pool"
import type { Due } from "../due"
import { type Happening, happen } from "../happen"
import type { DueMail, School } from "../port/letter"
import { type DkimKey, MailTrouble, type Message, mailLanes } from "../port/mailer"
import type { Surroundings } from "../surroundings"
import { signingKey } from "./dkim"
import { endSequence } from "./end"
import { sortOut } from "./hold"
import { writeMail } from "./write"

/** Mails claimed at a time, and handed over between two commits. */
const claimSize = 200
const batchSize = mailLanes

const columns = `m.id, m.kind, m.person_id, m.to_email, m.to_name, m.funnel_id, m.enrolment_id, m.sequence_mail_id, m.pending_join_id,
  m.way_in_id, m.studio_way_in_id, m.address_change_id, m.comment_id, m.order_id, m.plan_id, m.refund_id, m.message_id, m.tries, m.note, m.goes, m.due_at, m.wanted_at, m.broadcast_id, m.variant, q.live_version_id, q.state AS sequence_state, b.state AS broadcast_state, p.zone, p.mail_paused_at IS NOT NULL AS person_paused, f.live_release_id, a.id AS address_id, a.suppressed`
const joined = `mail m LEFT JOIN enrolment n ON n.id = m.enrolment_id LEFT JOIN sequence q ON q.id = n.sequence_id LEFT JOIN broadcast b ON b.id = m.broadcast_id LEFT JOIN funnel f ON f.id = m.funnel_id
  LEFT JOIN person p ON p.id = m.person_id LEFT JOIN address a ON a.person_id = p.id AND a.email = m.to_email`

/** A mail with what its letter is written from. */
export const dueMail = (db: Db, id: number): Promise<DueMail | undefined> =>
  db.row<DueMail>(`SELECT ${columns} FROM ${joined} WHERE m.id = ?`, [id])

export type Sent = { readonly sent: number; readonly troubled: number }

/** Sends what is due now, until nothing is; gives how many went out and how many did not. */
export async function sendDue(s: Surroundings, worker: string): Promise<Sent> {
  const total = { sent: 0, troubled: 0 }
  // Without a server everything waits, and no try is used up.
  if (!s.mailer.server) return total
  for (;;) {
    const claimed = await claim(s, worker)
    if (!claimed.length) return total
    const school = await s.db.row<School>(
      "SELECT name, sender_name, sender_email, postal_address FROM school WHERE id = 1",
    )
    if (!school) return total
    const dkim = await signingKey(s, school.sender_email)
    const { send, leftOut } = await sortOut(s, claimed)
    if (leftOut.length)
      await persist(
        s,
        [],
        leftOut.map((mail) => ({ mail, why: "left out: it would have come too late" })),
      )
    // Three batches are on their way at once, so that the connections do not wait for a commit.
    const waiting: DueMail[][] = []
    for (let i = 0; i < send.length; i += batchSize) waiting.push(send.slice(i, i + batchSize))
    const lane = async () => {
      for (let batch = waiting.shift(); batch; batch = waiting.shift()) {
        const done = await sendBatch(s, { ...school, dkim }, worker, batch)
        total.sent += done.sent
        total.troubled += done.troubled
      }
    }
    await Promise.all([lane(), lane(), lane()])
  }
}

async function claim(s: Surroundings, worker: string): Promise<DueMail[]> {
  const now = new Date(await s.clock.now())
  const lease = new Date(Date.now() + s.config.leaseMs)
  const ids = await s.db.transaction(async (tx) => {
    const due = await tx.rows<{ id: number }>(
      "SELECT id FROM mail m WHERE state = 'due' AND due_at <= ? AND try_at <= ? AND (m.goes IS NULL OR NOT EXISTS (SELECT 1 FROM stir s WHERE s.person_id = m.person_id)) ORDER BY due_at, id LIMIT ? FOR UPDATE SKIP LOCKED",
      [now, new Date(), claimSize],
    )
    if (due.length)
      await tx.write(
        "UPDATE mail SET claimed_by = ?, try_at = ?, message_id = COALESCE(message_id, CONCAT('<', id, '.', ?, '>')) WHERE id IN (?)",
        [worker, lease, `${s.config.installation}@${new URL(s.config.origin).hostname}`, due.map((d) => d.id)],
      )
    return due.map((d) => d.id)
  })
  if (!ids.length) return []
  return s.db.rows<DueMail>(`SELECT ${columns} FROM ${joined} WHERE m.id IN (?) ORDER BY m.due_at, m.id`, [ids])
}

async function sendBatch(
  s: Surroundings,
  school: School & { dkim?: DkimKey },
  worker: string,
  batch: DueMail[],
): Promise<Sent> {
  const at = await s.clock.now()
  const letters: { mail: DueMail; message: Message }[] = []
  const dropped: { mail: DueMail; why: string }[] = []
  for (const mail of batch) {
    const silent = isSilenced(mail.kind, mail.suppressed)
    const message = silent ? null : await writeMail(s.db, s.config, school, mail, at)
    if (message) letters.push({ mail, message: school.dkim ? { ...message, dkim: school.dkim } : message })
    else
      dropped.push({ mail, why: silent ? `not sent: ${mail.suppressed}` : "not sent: it is no longer in the funnel" })
  }
  const ids = letters.map((l) => l.mail.id)
  if (ids.length) {
    const marked = await s.db.write(
      "UPDATE mail SET state = 'sending', tries = tries + 1 WHERE id IN (?) AND claimed_by = ? AND state = 'due'",
      [ids, worker],
    )
    const ours = new Set(marked.affected === ids.length ? ids : await stillOurs(s.db, ids, worker))
    const results = await Promise.all(letters.filter((l) => ours.has(l.mail.id)).map((l) => hand(s, l.mail, l.message)))
    await persist(s, results, dropped)
    return { sent: results.filter((r) => !r.trouble).length, troubled: results.filter((r) => r.trouble).length }
  }
  await persist(s, [], dropped)
  return { sent: 0, troubled: 0 }
}

/** A lease that ran out may have been taken by another worker. */
async function stillOurs(db: Db, ids: readonly number[], worker: string): Promise<number[]> {
  const rows = await db.rows<{ id: number }>(
    "SELECT id FROM mail WHERE id IN (?) AND claimed_by = ? AND state = 'sending'",
    [ids, worker],
  )
  return rows.map((r) => r.id)
}

type Result = { mail: DueMail; subject: string; trouble: MailTrouble | null }

async function hand(s: Surroundings, mail: DueMail, message: Message): Promise<Result> {
  try {
    await s.mailer.send(message)
    return { mail, subject: message.subject, trouble: null }
  } catch (error) {
    const trouble = error instanceof MailTrouble ? error : new MailTrouble(String(error), undefined, false)
    return { mail, subject: message.subject, trouble }
  }
}

/** What the server said must not be lost: while the database is away it is tried again, as long as the lease holds. */
async function persist(s: Surroundings, results: Result[], dropped: { mail: DueMail; why: string }[]): Promise<void> {
  const until = Date.now() + s.config.leaseMs
  for (;;) {
    try {
      const at = await s.clock.now()
      await s.db.transaction((tx) => writeResults(tx, results, dropped, at))
      return
    } catch (error) {
      if (!isDatabaseDown(error) || Date.now() > until) throw error
      await new Promise((r) => setTimeout(r, 300))
    }
  }
}

async function writeResults(
  tx: Db,
  results: Result[],
  dropped: { mail: DueMail; why: string }[],
  at: number,
): Promise<void> {
  const now = new Date(at)
  const facts: Happening[] = []
  const onward: DueMail[] = []
  const good = results.filter((r) => !r.trouble)
  if (good.length) {
    await tx.write(
      "UPDATE mail SET state = 'sent', sent_at = ?, claimed_by = NULL, trouble = NULL, subject = ELT(FIELD(id, ?), ?) WHERE id IN (?)",
      [now, good.map((r) => r.mail.id), good.map((r) => r.subject.slice(0, 300)), good.map((r) => r.mail.id)],
    )
    for (const { mail, subject } of good) {
      if (mail.person_id !== null)
        facts.push({
          kind: "mailed",
          at,
          once: `mailed:${mail.id}`,
          person: mail.person_id,
          funnel: mail.funnel_id,
          subject: mail.id,
          words: subject,
        })
      onward.push(mail)
    }
  }
  for (const { mail, trouble } of results) {
    if (!trouble) continue
    const again = verdict(trouble.reply) === "again" && mail.tries + 1 < mostTries
    const why = trouble.message.slice(0, 400)
    if (again) {
      await tx.write(
        "UPDATE mail SET state = 'due', claimed_by = NULL, try_at = ?, trouble = ?, no_answer = ? WHERE id = ?",
        [new Date(Date.now() + pauseAfter(mail.tries + 1)), why, trouble.reply === undefined ? 1 : 0, mail.id],
      )
      continue
    }
    await tx.write("UPDATE mail SET state = 'rejected', claimed_by = NULL, trouble = ? WHERE id = ?", [why, mail.id])
    if (mail.person_id === null) continue
    facts.push({
      kind: "mail-rejected",
      at,
      once: `rejected:${mail.id}`,
      person: mail.person_id,
      subject: mail.id,
      words: why,
    })
    if (trouble.receiver) {
      await tx.write(
        "UPDATE address SET suppressed = 'undeliverable', suppressed_at = ?, suppressed_why = ? WHERE person_id = ? AND email = ?",
        [now, why, mail.person_id, mail.to_email],
      )
      await endSequence(tx, { person: mail.person_id, sequence: null, why: "undeliverable", at })
    } else onward.push(mail)
  }
  for (const { mail, why } of dropped) {
    await tx.write("UPDATE mail SET state = 'cancelled', claimed_by = NULL, trouble = ? WHERE id = ?", [why, mail.id])
    if (mail.suppressed === null) onward.push(mail)
  }
  await goOn(tx, onward, at)
  await happen(tx, facts)
}

/** After a sequence's mail they go on behind the step that sent it. */
async function goOn(tx: Db, mails: readonly DueMail[], at: number): Promise<void> {
  const gone = mails.flatMap((m) =>
    m.enrolment_id !== null && m.sequence_mail_id !== null
      ? [{ enrolment: m.enrolment_id, mail: m.sequence_mail_id }]
      : [],
  )
  if (gone.length) await tx.around.sequences.afterMails(tx, gone, at)
}

/** What a worker that died was sending: asked-for mail is due again, any other is unsure. Gives how many. */
export async function recoverMail(s: Surroundings): Promise<number> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx) => {
    const lost = await tx.rows<DueMail>(
      `SELECT ${columns} FROM ${joined} WHERE m.id IN (SELECT id FROM (SELECT id FROM mail WHERE state = 'sending' AND try_at < ? LIMIT 500 FOR UPDATE SKIP LOCKED) lost)`,
      [new Date()],
    )
    for (const mail of lost) {
      if (mailKinds[mail.kind].asked) {
        await tx.write(
          "UPDATE mail SET state = 'due', claimed_by = NULL, trouble = 'sent again after a crash, under the same Message-ID' WHERE id = ? AND state = 'sending'",
          [mail.id],
        )
        continue
      }
      const marked = await tx.write(
        "UPDATE mail SET state = 'unsure', claimed_by = NULL, trouble = 'the worker was stopped while it was being handed over' WHERE id = ? AND state = 'sending'",
        [mail.id],
      )
      if (!marked.affected) continue
      await happen(tx, [
        { kind: "mail-unsure", at, once: `unsure:${mail.id}`, person: mail.person_id, subject: mail.id },
      ])
      await goOn(tx, [mail], at)
    }
    return lost.length
  })
}

export const mails: Due = {
  name: "mail",
  nextAt: async (s) => (s.mailer.server ? nextMailDue(s.db) : null),
  async run(s, worker) {
    await recoverMail(s)
    await sendDue(s, worker)
  },
  async inHand(s) {
    const held = await s.db.row(
      "SELECT 1 FROM mail WHERE (state = 'sending' OR (state = 'due' AND claimed_by IS NOT NULL AND due_at <= ?)) AND try_at > ? LIMIT 1",
      [new Date(await s.clock.now()), new Date()],
    )
    return held !== undefined
  },
}

/** The next instant (ms of business time) at which a mail is due that can be tried now, or null. */
async function nextMailDue(db: Db): Promise<number | null> {
  const next = await db.row<{ due_at: Date }>(
    "SELECT due_at FROM mail WHERE state = 'due' AND try_at <= ? ORDER BY due_at LIMIT 1",
    [new Date()],
  )
  return next ? next.due_at.getTime() : null
}
