// What keeps people moving through sequences: an e-mail has gone, a wait is over, something happened to them, they have moved.
import { grouped } from "@/core/group"
import type { HappeningKind } from "@/core/happening"
import { allSteps, behindMail, sendStepOf, stepAfter } from "@/core/sequence/flow"
import { waitOf } from "@/core/sequence/step/list"
import { waitsUntil } from "@/core/sequence/wait"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { type Due, untilDone } from "../due"
import { versionById } from "../releases"
import { type Listener, oneByOne, type Sequences } from "../tx-context"
import { leaveAtGoal } from "./advance"
import { takenOnRuns, takeOn } from "./take-on"

/** People taken on in one transaction. */
const batch = 500

/** An e-mail has gone: they go on behind the step that sent it. */
export const afterMails: Sequences["afterMails"] = async (tx, gone, at) => {
  const mailOf = new Map(gone.map((g) => [g.enrolment, g.mail]))
  const on: number[] = []
  for (const rows of (await takenOnRuns(tx, [...mailOf.keys()])).values()) {
    const flow = (await versionById(tx, rows[0]!.version))?.document.flow
    if (!flow) continue
    for (const [step, together] of grouped(rows, (r) => behindMail(flow, mailOf.get(r.enrolment)!, r.step))) {
      const ids = together.map((r) => r.enrolment)
      await tx.write("UPDATE enrolment SET step = ?, arrived_at = ? WHERE id IN (?)", [step, new Date(at), ids])
      on.push(...ids)
    }
  }
  await takeOn(tx, on, at)
}

/** What can make a question about somebody come out otherwise. */
const stirring: readonly HappeningKind[] = [
  "tagged",
  "untagged",
  "answered",
  "picked",
  "joined",
  "signed-in",
  "admitted",
  "access-ended",
  "opened",
  "clicked",
  "lesson-opened",
  "lesson-done",
  "quiz-passed",
  "quiz-failed",
  "survey-answered",
  "hand-in-accepted",
  "module-done",
  "course-begun",
  "course-done",
  "registered",
  "attended",
  "left-early",
  "missed",
  "bought",
  "charged",
  "charge-failed",
  "plan-ended",
  "plan-paid",
  "refunded",
  "returned-to-mail",
  "zone-changed",
]

/** Something has happened to somebody who is in a sequence that listens: they are looked at before anything more is sent. */
export const recheck: Listener = {
  to: stirring,
  hear: (tx, all) =>
    note(
      tx,
      all.flatMap((h) => h.person ?? []),
      all[0]?.at ?? 0,
    ),
  hearsAny: true,
}

async function note(tx: Db, people: readonly number[], at: number): Promise<void> {
  if (people.length)
    await tx.write(
      "INSERT IGNORE INTO stir (person_id, at) SELECT DISTINCT person_id, ? FROM enrolment WHERE person_id IN (?) AND listens = 1 AND ended_at IS NULL",
      [new Date(at), people],
    )
}

/** Whoever has moved is written to at the same time of day there. */
export const moveZone: Listener = {
  to: ["zone-changed"],
  hear: oneByOne(async (tx, h) => {
    const due = await tx.rows<{ id: number; due: Date; mail: number; version: number }>(
      `SELECT m.id, m.due_at AS due, m.sequence_mail_id AS mail, q.live_version_id AS version FROM mail m JOIN enrolment n ON n.id = m.enrolment_id JOIN sequence q ON q.id = n.sequence_id
       WHERE m.person_id = ? AND m.sequence_mail_id IS NOT NULL AND m.state = 'due' AND m.claimed_by IS NULL FOR UPDATE`,
      [h.person ?? 0],
    )
    for (const d of due) {
      const flow = (await versionById(tx, d.version))?.document.flow
      const sent = flow && sendStepOf(flow, d.mail)
      const before =
        flow && sent && allSteps(flow.steps).find((s) => stepAfter(flow, s.id)?.id === sent.id && waitOf(s))
      const wait = before && waitOf(before)
      if (!wait || !("at" in wait) || wait.at === null) continue
      // The same morning, there: the first such time within the day around the old one, and never before now.
      const from = Math.max(h.at, d.due.getTime() - 43_200_000)
      const due = waitsUntil(wait.for === "days" ? { ...wait, days: 0 } : wait, from, h.words ?? "UTC")
      await tx.update("mail", d.id, { due_at: new Date(due) })
    }
    // Those who wait at a step are looked at again, by the clock there.
    await tx.write("UPDATE enrolment SET due_at = ? WHERE person_id = ? AND due_at IS NOT NULL", [
      new Date(h.at),
      h.person ?? 0,
    ])
  }),
}

async function takeStirred(s: Context): Promise<number> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx) => {
    const stirred = await tx.rows<{ id: number }>(
      "SELECT person_id AS id FROM stir ORDER BY person_id LIMIT ? FOR UPDATE SKIP LOCKED",
      [batch],
    )
    if (!stirred.length) return 0
    const people = stirred.map((p) => p.id)
    const listening = await tx.rows<{ id: number; waits: number }>(
      "SELECT id, due_at IS NOT NULL AS waits FROM enrolment WHERE person_id IN (?) AND listens = 1 AND ended_at IS NULL FOR UPDATE",
      [people],
    )
    // Whoever has an e-mail to come stays where they are, unless they are at the goal.
    const mailed = listening.filter((n) => !n.waits).map((n) => n.id)
    for (const [sequence, rows] of await takenOnRuns(tx, mailed)) {
      const version = await versionById(tx, rows[0]!.version)
      if (version) await leaveAtGoal(tx, sequence, version.document, rows, at)
    }
    await takeOn(
      tx,
      listening.filter((n) => n.waits).map((n) => n.id),
      at,
    )
    await tx.write("DELETE FROM stir WHERE person_id IN (?)", [people])
    return stirred.length
  })
}

async function takeWaiting(s: Context): Promise<number> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx) => {
    const due = await tx.rows<{ id: number }>(
      "SELECT id FROM enrolment WHERE due_at <= ? ORDER BY due_at, id LIMIT ? FOR UPDATE SKIP LOCKED",
      [new Date(at), batch],
    )
    await takeOn(
      tx,
      due.map((d) => d.id),
      at,
    )
    return due.length
  })
}

/** People in sequences whose wait is over, or to whom something has happened. */
export const sequences: Due = {
  name: "sequences",
  async nextAt(s) {
    const stirred = await s.db.row("SELECT 1 FROM stir LIMIT 1")
    if (stirred) return s.clock.now()
    const next = await s.db.row<{ at: Date }>(
      "SELECT due_at AS at FROM enrolment WHERE due_at IS NOT NULL ORDER BY due_at LIMIT 1",
    )
    return next?.at.getTime() ?? null
  },
  waits: (_, at) => [
    ["SELECT 1 FROM stir", []],
    ["SELECT 1 FROM enrolment WHERE due_at <= ?", [at.business]],
  ],
  async run(s) {
    await untilDone(() => takeStirred(s), batch)
    await untilDone(() => takeWaiting(s), batch)
  },
  // Some are looked after within their transaction: they are either still to come or over.
  inHand: async () => false,
}
