// Sending what is due. Rows are claimed with SKIP LOCKED under a token of this one claim, so that neither another worker
// nor a later run of this one takes them for its own; "sending" is committed before a message is handed over; what the
// server said is written after. Where that is not known, a mail that somebody asked for goes out again under the same
// Message-ID, and any other is marked unsure, so that nobody gets it twice. Slow is not dead: while lanes work, their claim
// is renewed, and no other run begins.

import { randomBytes } from "node:crypto"
import { isLater, mostTries, pauseAfter, verdict } from "@/core/mail/delivery"
import { isSilenced, mailKinds } from "@/core/mail/kind/list"
import type { Context } from "../context"
import { type Db, isDatabaseDown } from "../db/pool"
import type { Due } from "../due"
import { type Happening, happen } from "../happen"
import type { DueMail, LetterSchool } from "../port/letter"
import { type DkimKeys, MailTrouble, type Message, mailLanes } from "../port/mailer"
import { signingKeys } from "./dkim"
import { endSequence } from "./end"
import { sortOut } from "./hold"
import { applyReplies, type Going, takeTurns } from "./pace"
import { mailSchool } from "./school"
import { writeMail } from "./write"

/** Mails claimed at a time. */
const claimSize = 200

/** Two for each connection: while one is handed over, the other's commit is made. */
const lanes = 2 * mailLanes

const columns = `m.id, m.kind, m.person_id, m.to_email, m.to_name, m.funnel_id, m.enrolment_id, m.sequence_mail_id, m.pending_join_id,
  m.way_in_id, m.studio_way_in_id, m.address_change_id, m.comment_id, m.order_id, m.plan_id, m.refund_id, m.registration_id, m.room_message_id, m.payout_to_id, m.bank_change_id, m.offer_id, m.course_id, m.message_id, m.tries, m.note, m.claimed_by, m.goes, m.due_at, m.not_after, m.wanted_at, m.paced, m.broadcast_id, m.variant, q.live_version_id, q.state AS sequence_state, b.state AS broadcast_state, p.zone, p.mail_paused_at IS NOT NULL AS person_paused, f.live_release_id, a.id AS address_id, a.suppressed`
const joined = `mail m LEFT JOIN enrolment n ON n.id = m.enrolment_id LEFT JOIN sequence q ON q.id = n.sequence_id LEFT JOIN broadcast b ON b.id = m.broadcast_id LEFT JOIN funnel f ON f.id = m.funnel_id
  LEFT JOIN person p ON p.id = m.person_id LEFT JOIN address a ON a.person_id = p.id AND a.email = m.to_email`

/** A mail with what its letter is written from. */
export const dueMail = (db: Db, id: number): Promise<DueMail | undefined> =>
  db.row<DueMail>(`SELECT ${columns} FROM ${joined} WHERE m.id = ?`, [id])

export type Sent = { readonly sent: number; readonly troubled: number }

/** Sends what is due now, until nothing is; gives how many went out and how many did not. */
export async function sendDue(s: Context, worker: string): Promise<Sent> {
  const total = { sent: 0, troubled: 0 }
  // Without a server everything waits, and no try is used up.
  if (!s.mailer.server) return total
  for (;;) {
    const claim = `${worker.slice(0, 47)}#${randomBytes(6).toString("hex")}`
    const claimed = await claimDue(s, claim)
    if (!claimed.length) return total
    const renewing = setInterval(() => void renew(s, claim).catch(() => {}), s.config.leaseMs / 3)
    try {
      const school = await mailSchool(s.db)
      if (!school) return total
      const dkim = await signingKeys(s, school.sender_email)
      const { send, leftOut } = await sortOut(s, claimed)
      if (leftOut.length)
        await persist(
          s,
          [],
          leftOut.map((mail) => ({ mail, why: "left out: it would have come too late" })),
        )
      const done = await handOver(s, { ...school, dkim }, claim, await takeTurns(s, send))
      total.sent += done.sent
      total.troubled += done.troubled
    } finally {
      clearInterval(renewing)
      await letGo(s.db, claim).catch(() => {})
    }
  }
}

async function claimDue(s: Context, claim: string): Promise<DueMail[]> {
  const now = new Date(await s.clock.now())
  const ids = await s.db.transaction(async (tx) => {
    const due = await tx.rows<{ id: number }>(
      "SELECT id FROM mail m WHERE state = 'due' AND due_at <= ? AND try_at <= ? AND (m.goes IS NULL OR NOT EXISTS (SELECT 1 FROM stir s WHERE s.person_id = m.person_id)) ORDER BY due_at, id LIMIT ? FOR UPDATE SKIP LOCKED",
      [now, new Date(), claimSize],
    )
    if (due.length)
      await tx.write(
        "UPDATE mail SET claimed_by = ?, try_at = ?, message_id = COALESCE(message_id, CONCAT('<', id, '.', ?, '>')) WHERE id IN (?)",
        [claim, leaseOf(s), `${s.config.installation}@${new URL(s.config.origin).hostname}`, due.map((d) => d.id)],
      )
    return due.map((d) => d.id)
  })
  if (!ids.length) return []
  return s.db.rows<DueMail>(`SELECT ${columns} FROM ${joined} WHERE m.id IN (?) ORDER BY m.due_at, m.id`, [ids])
}

const leaseOf = (s: Context) => new Date(Date.now() + s.config.leaseMs)

async function renew(s: Context, claim: string): Promise<void> {
  await s.db.write("UPDATE mail SET try_at = ? WHERE claimed_by = ? AND state IN ('due', 'sending')", [
    leaseOf(s),
    claim,
  ])
}

/** What was claimed and not begun is free at once. */
async function letGo(db: Db, claim: string): Promise<void> {
  await db.write("UPDATE mail SET claimed_by = NULL, try_at = ? WHERE claimed_by = ? AND state = 'due'", [
    new Date(),
    claim,
  ])
}

/**
 * Hands mails over, each lane one after the other: what became of the one before is written, and the next marked as on its way,
 * in the same commit, which lanes that are ready share. So a lane that is killed has one mail in its hands.
 */
async function handOver(
  s: Context,
  school: LetterSchool & { dkim?: DkimKeys },
  claim: string,
  going: readonly Going[],
): Promise<Sent> {
  const waiting = [...going]
  const total = { sent: 0, troubled: 0 }
  const commits = new Commits(s, claim)
  const lane = async () => {
    let done: Result | null = null
    for (;;) {
      const dropped: Dropped[] = []
      let next: { mail: DueMail; message: Message } | null = null
      while (!next) {
        const turn = waiting.shift()
        if (!turn) break
        const { mail } = turn
        const pause = turn.at - Date.now()
        if (pause > 0) {
          // What became of the one before isn't kept waiting for it.
          if (done) await commits.share({ done, dropped: [], next: null })
          done = null
          await new Promise((r) => setTimeout(r, pause))
        }
        const silent = isSilenced(mail.kind, mail.suppressed)
        const message = silent ? null : await writeMail(s.db, s.config, school, mail, await s.clock.now())
        if (message) next = { mail, message: school.dkim ? { ...message, dkim: school.dkim } : message }
        else
          dropped.push({
            mail,
            why: silent ? `not sent: ${mail.suppressed}` : "not sent: it is no longer in the sequence",
          })
      }
      const ours = await commits.share({ done, dropped, next: next?.mail.id ?? null })
      if (!next) return
      done = ours ? await hand(s, next.mail, next.message) : null
      if (done) total[done.trouble ? "troubled" : "sent"]++
    }
  }
  // One that fails ends by itself: the others still have mail in their hands.
  const ended = await Promise.allSettled(Array.from({ length: lanes }, lane))
  const failed = ended.find((e) => e.status === "rejected")
  if (failed) throw failed.reason
  return total
}

type Dropped = { readonly mail: DueMail; readonly why: string }

type Share = { readonly done: Result | null; readonly dropped: readonly Dropped[]; readonly next: number | null }

/** Commits that lanes share: while one is made, those that come to be ready wait for the next. */
class Commits {
  #queue: { readonly share: Share; settle(ours: boolean): void; fail(error: unknown): void }[] = []
  #running = false
  readonly #s: Context
  readonly #claim: string

  constructor(s: Context, claim: string) {
    this.#s = s
    this.#claim = claim
  }

  /** Resolves when it is written; whether the next mail is still under this claim. */
  share(share: Share): Promise<boolean> {
    return new Promise((settle, fail) => {
      this.#queue.push({ share, settle, fail })
      void this.#run()
    })
  }

  async #run(): Promise<void> {
    if (this.#running) return
    this.#running = true
    while (this.#queue.length) {
      const all = this.#queue
      this.#queue = []
      try {
        const ours = await this.#commit(all.map((x) => x.share))
        for (const { share, settle } of all) settle(share.next !== null && ours.has(share.next))
      } catch (error) {
        for (const { fail } of all) fail(error)
      }
    }
    this.#running = false
  }

  async #commit(shares: readonly Share[]): Promise<ReadonlySet<number>> {
    const results = shares.flatMap((x) => x.done ?? [])
    const dropped = shares.flatMap((x) => x.dropped)
    const next = shares.flatMap((x) => x.next ?? [])
    // What another has claimed since isn't marked. One that an earlier try of this commit marked counts: nobody else has
    // this claim, and no two lanes the same mail.
    return persist(this.#s, results, dropped, async (tx) => {
      if (!next.length) return new Set<number>()
      await tx.write(
        "UPDATE mail SET state = 'sending', tries = tries + 1, try_at = ? WHERE id IN (?) AND claimed_by = ? AND state = 'due'",
        [leaseOf(this.#s), next, this.#claim],
      )
      const ours = await tx.rows<{ id: number }>(
        "SELECT id FROM mail WHERE id IN (?) AND claimed_by = ? AND state = 'sending'",
        [next, this.#claim],
      )
      return new Set(ours.map((r) => r.id))
    })
  }
}

type Result = { mail: DueMail; subject: string; trouble: MailTrouble | null }

async function hand(s: Context, mail: DueMail, message: Message): Promise<Result> {
  try {
    await s.mailer.send(message)
    return { mail, subject: message.subject, trouble: null }
  } catch (error) {
    const trouble = error instanceof MailTrouble ? error : new MailTrouble(String(error), { sent: false })
    return { mail, subject: message.subject, trouble }
  }
}

/** How long a result is held while the database is away or slow, ms. */
const heldFor = 15 * 60_000

/** What the server said must not be lost: while the database is away or slow it is tried again. */
async function persist<T>(
  s: Context,
  results: readonly Result[],
  dropped: readonly Dropped[],
  also: (tx: Db) => Promise<T> = async () => undefined as T,
): Promise<T> {
  // Nothing is lost by giving up where nothing was handed over.
  const until = Date.now() + (results.length ? heldFor : s.config.leaseMs)
  for (;;) {
    try {
      const at = await s.clock.now()
      return await s.db.transaction(async (tx) => {
        await writeResults(tx, results, dropped, at)
        return also(tx)
      })
    } catch (error) {
      if (!isDatabaseDown(error) || Date.now() > until) throw error
      await new Promise((r) => setTimeout(r, 300))
    }
  }
}

async function writeResults(
  tx: Db,
  results: readonly Result[],
  dropped: readonly Dropped[],
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
    // It may have arrived: only what somebody waits for is worth a second one.
    if (trouble.sent && !mailKinds[mail.kind].asked) {
      if (await markUnsure(tx, mail, "no answer came after it was handed over", at)) onward.push(mail)
      continue
    }
    if (again) {
      await tx.write(
        "UPDATE mail SET state = 'due', claimed_by = NULL, try_at = ?, trouble = ?, no_answer = ? WHERE id = ? AND claimed_by = ?",
        [
          new Date(Date.now() + pauseAfter(mail.tries + 1)),
          why,
          trouble.reply === undefined ? 1 : 0,
          mail.id,
          mail.claimed_by,
        ],
      )
      continue
    }
    await tx.update("mail", mail.id, { state: "rejected", claimed_by: null, trouble: why })
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
    await tx.write(
      "UPDATE mail SET state = 'cancelled', claimed_by = NULL, trouble = ? WHERE id = ? AND claimed_by = ?",
      [why, mail.id, mail.claimed_by],
    )
    if (mail.suppressed === null) onward.push(mail)
  }
  await applyReplies(
    tx,
    results.flatMap(({ mail, trouble }) => {
      const answer = trouble ? (isLater(trouble.reply) ? ("later" as const) : null) : ("taken" as const)
      return answer ? [{ email: mail.to_email, answer, says: trouble?.message ?? "" }] : []
    }),
  )
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
  if (gone.length) await tx.context.sequences.afterMails(tx, gone, at)
}

/** Marks one that nobody knows the fate of; whether it was still on its way. */
async function markUnsure(tx: Db, mail: DueMail, why: string, at: number): Promise<boolean> {
  const marked = await tx.write(
    "UPDATE mail SET state = 'unsure', claimed_by = NULL, trouble = ? WHERE id = ? AND state = 'sending'",
    [why, mail.id],
  )
  if (!marked.affected) return false
  await happen(tx, [{ kind: "mail-unsure", at, once: `unsure:${mail.id}`, person: mail.person_id, subject: mail.id }])
  return true
}

/** What was being sent under a claim that ran out: asked-for mail is due again, any other is unsure. Gives how many. */
export async function recoverMail(s: Context): Promise<number> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx) => {
    const lost = await tx.rows<DueMail>(
      `SELECT ${columns} FROM ${joined} WHERE m.id IN (SELECT id FROM (SELECT id FROM mail WHERE state = 'sending' AND try_at < ? LIMIT 500 FOR UPDATE SKIP LOCKED) lost)`,
      [new Date()],
    )
    for (const mail of lost) {
      if (mailKinds[mail.kind].asked)
        await tx.write(
          "UPDATE mail SET state = 'due', claimed_by = NULL, trouble = 'sent again under the same Message-ID: what became of the first try is not known' WHERE id = ? AND state = 'sending'",
          [mail.id],
        )
      else if (await markUnsure(tx, mail, "no word came of whether it was handed over", at)) await goOn(tx, [mail], at)
    }
    return lost.length
  })
}

export const mails: Due = {
  name: "mail",
  nextAt: async (s) => (s.mailer.server ? nextMailDue(s.db) : null),
  waits: (s, at) => [
    ["SELECT 1 FROM mail WHERE state = 'sending' AND try_at < ?", [at.real]],
    ...(s.mailer.server
      ? [["SELECT 1 FROM mail WHERE state = 'due' AND due_at <= ? AND try_at <= ?", [at.business, at.real]] as const]
      : []),
  ],
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
