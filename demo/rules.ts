// What the demo has sent keeps to the school's own rules: its hours, days and limits, decided by the engine's own function, and the
// goals at which sequences end.
import { decideSending, type SendingRules } from "@/core/mail/sending-rules"
import type { Flow } from "@/core/sequence/flow"
import type { Db } from "@/server/db/pool"

type Sent = {
  readonly id: number
  readonly person: number
  readonly zone: string
  readonly at: Date
  readonly sequence: number | null
}

/** Moves what was sent at night or beyond a limit to when it would have gone, and takes out what never would have. */
export async function keepToRules(db: Db, manners: SendingRules, now: number): Promise<void> {
  await db.write(
    "UPDATE mail m JOIN enrolment n ON n.id = m.enrolment_id JOIN sequence q ON q.id = n.sequence_id SET m.goes = q.goes WHERE m.sequence_mail_id IS NOT NULL",
  )
  const goals = await goalsReached(db)
  const mails = await db.rows<Sent>(
    `SELECT m.id, m.person_id AS person, p.zone, m.sent_at AS at, x.sequence_id AS sequence FROM mail m JOIN person p ON p.id = m.person_id LEFT JOIN sequence_mail x ON x.id = m.sequence_mail_id
     WHERE m.state = 'sent' AND m.goes <> 'asked' ORDER BY m.person_id, m.sent_at, m.id`,
  )
  const moved: [number, number][] = []
  const never: number[] = []
  let of = 0
  let sent: number[] = []
  for (const m of mails) {
    if (m.person !== of) [of, sent] = [m.person, []]
    const at = m.at.getTime()
    const done = decideSending(manners, at, at, m.zone, sent)
    const when = done.does === "hold" ? done.until : at
    const over = m.sequence !== null && when >= (goals.get(`${m.sequence} ${m.person}`) ?? Number.POSITIVE_INFINITY)
    if (over || done.does === "leave-out" || when > now) never.push(m.id)
    else {
      sent.push(when)
      if (when !== at) moved.push([m.id, Math.ceil((when - at) / 1000)])
    }
  }
  await db.write("CREATE TEMPORARY TABLE moved (id INT UNSIGNED NOT NULL PRIMARY KEY, by_s INT NOT NULL)")
  for (let i = 0; i < moved.length; i += 1000) await db.write("INSERT INTO moved VALUES ?", [moved.slice(i, i + 1000)])
  const by = "+ INTERVAL v.by_s SECOND"
  await db.write(`UPDATE fact f JOIN moved v ON v.id = f.subject_id SET f.at = f.at ${by} WHERE f.kind = 'mailed'`)
  await db.write(`UPDATE mail_click c JOIN moved v ON v.id = c.mail_id SET c.at = LEAST(c.at ${by}, ?)`, [
    new Date(now),
  ])
  await db.write(
    `UPDATE mail m JOIN moved v ON v.id = m.id SET m.sent_at = m.sent_at ${by}, m.opened_at = LEAST(m.opened_at ${by}, ?), m.clicked_at = LEAST(m.clicked_at ${by}, ?), m.left_at = LEAST(m.left_at ${by}, ?)`,
    [new Date(now), new Date(now), new Date(now)],
  )
  await db.write("DROP TEMPORARY TABLE moved")
  for (let i = 0; i < never.length; i += 1000) {
    const some = [never.slice(i, i + 1000)]
    await db.write("DELETE FROM fact WHERE kind = 'mailed' AND subject_id IN (?)", some)
    await db.write("DELETE FROM mail_click WHERE mail_id IN (?)", some)
    await db.write("DELETE FROM mail WHERE id IN (?)", some)
  }
  await endAtGoals(db, goals)
}

/** When each person reached the goal of a sequence whose goal is a purchase, ms, by "sequence person". */
async function goalsReached(db: Db): Promise<Map<string, number>> {
  const reached = new Map<string, number>()
  const sequences = await db.rows<{ id: number; flow: string }>("SELECT id, flow FROM sequence")
  for (const { id, flow } of sequences)
    for (const c of (JSON.parse(flow) as Flow).goal?.parts ?? []) {
      if (!("kind" in c) || c.kind !== "bought") continue
      const buyers = await db.rows<{ person: number; at: Date }>(
        "SELECT o.person_id AS person, MIN(o.paid_at) AS at FROM orders o JOIN order_line l ON l.order_id = o.id WHERE o.state = 'paid' AND (? IS NULL OR l.offer_id = ?) GROUP BY 1",
        [c.offer, c.offer],
      )
      for (const b of buyers) reached.set(`${id} ${b.person}`, b.at.getTime())
    }
  return reached
}

/** Whoever reached the goal on the way is out of the sequence from then on, and one who had before never was in it. */
async function endAtGoals(db: Db, goals: ReadonlyMap<string, number>): Promise<void> {
  const runs = await db.rows<{ id: number; sequence: number; person: number; begun: Date; ended: Date | null }>(
    "SELECT id, sequence_id AS sequence, person_id AS person, begun_at AS begun, ended_at AS ended FROM enrolment",
  )
  for (const r of runs) {
    const goal = goals.get(`${r.sequence} ${r.person}`)
    if (goal === undefined || (r.ended && r.ended.getTime() <= goal)) continue
    await db.write("DELETE FROM mail WHERE enrolment_id = ? AND state = 'due'", [r.id])
    if (goal < r.begun.getTime()) {
      await db.write("DELETE FROM fact WHERE person_id = ? AND subject_id = ? AND kind LIKE 'sequence-%'", [
        r.person,
        r.sequence,
      ])
      await db.write("DELETE FROM enrolment WHERE id = ?", [r.id])
      continue
    }
    await db.write(
      "UPDATE enrolment SET ended_at = ?, ended_why = 'reached its goal', step = NULL, arrived_at = NULL, due_at = NULL, listens = 0 WHERE id = ?",
      [new Date(goal), r.id],
    )
    await db.write(
      "UPDATE fact SET at = ?, words = REPLACE(words, 'finished', 'reached its goal') WHERE person_id = ? AND subject_id = ? AND kind = 'sequence-ended'",
      [new Date(goal), r.person, r.sequence],
    )
  }
}

/** Links that were followed, and a good third more who only looked: told of each e-mail, as the engine tells it. */
export async function readMails(db: Db): Promise<void> {
  await db.write(
    "UPDATE mail m JOIN fact f ON f.kind = 'clicked' AND f.subject_id = m.id AND f.person_id = m.person_id LEFT JOIN enrolment e ON e.id = m.enrolment_id SET m.clicked_at = f.at, m.opened_at = f.at, e.clicked = 1 WHERE m.sequence_mail_id IS NOT NULL AND m.clicked_at IS NULL",
  )
  await db.write(
    "UPDATE mail m SET m.opened_at = m.sent_at + INTERVAL 2 + CRC32(CONCAT('opens', m.id)) MOD 600 MINUTE WHERE m.sequence_mail_id IS NOT NULL AND m.state = 'sent' AND m.opened_at IS NULL AND CRC32(CONCAT('open', m.id)) MOD 1000 < 360",
  )
  await db.write(
    "UPDATE mail m JOIN enrolment n ON n.id = m.enrolment_id AND n.ended_why = 'left' SET m.left_at = n.ended_at WHERE m.sent_at = (SELECT MAX(x.sent_at) FROM mail x WHERE x.enrolment_id = n.id AND x.state = 'sent')",
  )
}
