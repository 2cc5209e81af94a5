// Putting a sequence live: what is being worked on becomes a version, and whoever is in it goes on by that.
import { isDeepStrictEqual } from "node:util"
import { grouped } from "@/core/group"
import { mailPage } from "@/core/mail/page"
import { actorText } from "@/core/person/actor"
import { passedBy, placeIn } from "@/core/sequence/change"
import { mailsInOrder, refsOfLetter, type SequenceDocument, type SequenceLetter } from "@/core/sequence/document"
import { type Flow, sendStepOf } from "@/core/sequence/flow"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import { loadCourseCards } from "../course/card"
import type { Db } from "../db/pool"
import { buttonTrouble } from "../mail/button"
import { deadLinksIn } from "../mail/click"
import { release } from "../mail/hold"
import { bodyOf } from "../mail/page"
import { type SequenceVersion, versionById } from "../releases"
import { gone, ok, type Saved } from "../saved"
import { circleSays, loadWires } from "./chain"
import { stepWords } from "./edit"
import { loadSequence, mailPages, type SequenceDraft } from "./store"

/** What a draft would be as a version. */
async function documentOf(db: Db, q: SequenceDraft): Promise<SequenceDocument> {
  const pages = await mailPages(db, q.id)
  const mails: SequenceLetter[] = []
  for (const { afterDays: _, atMinute: __, ...m } of mailsInOrder(q.flow.steps, q.mails)) {
    const page = pages.get(m.id)
    // What a page speaks of may have changed since it was written.
    mails.push(page === undefined ? m : { ...m, body: await bodyOf(db, mailPage({ page, body: "" })) })
  }
  // A sequence that brings no lesson speaks of the course of the funnel that begins it.
  const around = await db.rows<{ id: number }>(
    "SELECT DISTINCT course_id AS id FROM reference WHERE course_id IS NOT NULL AND funnel_id IN (SELECT funnel_id FROM reference WHERE sequence_id = ?) ORDER BY course_id",
    [q.id],
  )
  return {
    version: 1,
    name: q.name,
    leaveLine: q.leaveLine,
    from: q.from,
    flow: q.flow,
    mails,
    courses: await loadCourseCards(db, [
      ...mails.flatMap(refsOfLetter),
      ...around.map(({ id }) => ({ to: "course" as const, id, use: "" })),
    ]),
  }
}

/** Whether what is being worked on has moved on since it was put live. */
export async function isSequenceChanged(db: Db, q: SequenceDraft): Promise<boolean> {
  const live = q.version === null ? undefined : await versionById(db, q.version)
  if (!live) return false
  const { courses: _, ...now } = await documentOf(db, q)
  const { courses: __, ...then } = live.document
  return !isDeepStrictEqual(now, then)
}

/** Writes the version that people are taken through from now on. To be called inside a transaction that holds its row. */
async function writeVersion(tx: Db, id: number, at: number): Promise<SequenceVersion | null> {
  const q = await loadSequence(tx, id)
  if (!q) return null
  const last = await tx.row<{ number: number }>(
    "SELECT MAX(number) AS number FROM sequence_version WHERE sequence_id = ?",
    [id],
  )
  const document = await documentOf(tx, q)
  const made = await tx.insert("sequence_version", {
    sequence_id: id,
    number: (last?.number ?? 0) + 1,
    at: new Date(at),
    snapshot: JSON.stringify(document),
    actor: actorText(tx.context.actor),
  })
  await tx.write(
    "UPDATE sequence SET live_version_id = ?, state = IF(state = 'paused', 'paused', 'live') WHERE id = ?",
    [made.id, id],
  )
  return { id: made.id, sequence: id, document }
}

/** Puts those live that were never live and aren't drafts: they go with the funnel that begins them. */
export async function liveWithFunnel(tx: Db, ids: readonly number[], at: number): Promise<void> {
  const fresh = await tx.rows<{ id: number }>(
    "SELECT id FROM sequence WHERE id IN (?) AND live_version_id IS NULL AND state <> 'draft' ORDER BY id FOR UPDATE",
    [[0, ...ids]],
  )
  for (const { id } of fresh) await writeVersion(tx, id, at)
}

/** How those go on for whom an e-mail is planned already: as it is planned, or by the new waits. */
export type Replan = "as-planned" | "anew"

/** Puts what is being worked on live; whoever is in it goes on from where they are, or from the next step that is still there. */
export async function putLive(s: Context, id: number, replan: Replan = "as-planned"): Promise<Saved> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const before = await tx.row<{ version: number | null }>(
      "SELECT live_version_id AS version FROM sequence WHERE id = ? FOR UPDATE",
      [id],
    )
    if (!before) return gone
    const was = before.version === null ? undefined : await versionById(tx, before.version)
    const draft = await loadSequence(tx, id)
    const wires = await loadWires(tx)
    const circle =
      draft && (await circleSays(tx, wires, { ...wires, sequences: new Map(wires.sequences).set(id, draft.flow) }))
    if (circle) return { refused: circle }
    const button = draft && (await deadButton(tx, draft))
    if (button) return { refused: button }
    const now = await writeVersion(tx, id, at)
    if (was && now) await moveOn(tx, id, was.document.flow, now.document.flow, replan, at)
    return ok
  }, 120_000)
}

/** The first of its e-mails whose button or link leads nowhere, in words; null where none does. */
async function deadButton(tx: Db, q: SequenceDraft): Promise<string | null> {
  for (const m of mailsInOrder(q.flow.steps, q.mails)) {
    const wrong = await buttonTrouble(tx, { button: m.button, lesson: m.lessonId, step: m.stepId }, "may be late")
    if (wrong) return wrong
    if ((await deadLinksIn(tx, m.body)) > 0) return refusals.mail.linkNowhere(m.subject)
  }
  return null
}

type Standing = {
  readonly id: number
  readonly step: number
  readonly mail: number | null
  readonly mailed: number | null
  readonly due: Date | null
}

/** Takes those who are in a sequence over to what it is now. */
async function moveOn(tx: Db, id: number, was: Flow, now: Flow, replan: Replan, at: number): Promise<void> {
  const standing = await tx.rows<Standing>(
    `SELECT n.id, n.step, m.id AS mail, m.sequence_mail_id AS mailed, m.due_at AS due FROM enrolment n
     LEFT JOIN mail m ON m.enrolment_id = n.id AND m.sequence_mail_id IS NOT NULL AND m.state IN ('due', 'held')
     WHERE n.sequence_id = ? AND n.ended_at IS NULL AND n.step IS NOT NULL FOR UPDATE`,
    [id],
  )
  for (const [, group] of grouped(standing, (p) => `${p.step} ${p.mailed}`)) {
    const { step, mailed } = group[0]!
    const planned = group.flatMap((p) => p.mail ?? [])
    const kept = mailed !== null && sendStepOf(now, mailed) !== undefined
    // What is planned and still sent stays as it is planned, where that is wanted.
    if (kept && replan === "as-planned") continue
    const from = mailed === null || kept ? step : (sendStepOf(was, mailed)?.id ?? step)
    const to = placeIn(now, was, from)
    const ids = group.map((p) => p.id)
    if (mailed !== null && !kept)
      // Whose e-mail is gone goes on when it would have come.
      await tx.write(
        "UPDATE enrolment n JOIN mail m ON m.enrolment_id = n.id AND m.id IN (?) SET n.step = ?, n.arrived_at = m.due_at, n.due_at = m.due_at",
        [planned, to],
      )
    else if (to === step) await tx.write("UPDATE enrolment SET due_at = ? WHERE id IN (?)", [new Date(at), ids])
    else
      await tx.write("UPDATE enrolment SET step = ?, arrived_at = ?, due_at = ? WHERE id IN (?)", [
        to,
        new Date(at),
        new Date(at),
        ids,
      ])
    if (planned.length)
      await tx.write("DELETE FROM mail WHERE id IN (?) AND state IN ('due', 'held') AND claimed_by IS NULL", [planned])
  }
  if (now.goal !== null)
    await tx.write("UPDATE enrolment SET listens = 1 WHERE sequence_id = ? AND ended_at IS NULL", [id])
}

/** Nobody is taken on and nothing is sent until it goes on; what falls due meanwhile is held. */
export async function pauseSequence(s: Context, id: number): Promise<Saved> {
  return s.db.transaction(async (tx): Promise<Saved> => {
    const done = await tx.write("UPDATE sequence SET state = 'paused' WHERE id = ? AND state = 'live'", [id])
    if (!done.affected) return gone
    await tx.write("UPDATE enrolment SET due_at = NULL WHERE sequence_id = ? AND ended_at IS NULL", [id])
    return ok
  }, 120_000)
}

/** It goes on: what was held is due, at its time or now where that has passed. */
export async function resumeSequence(s: Context, id: number): Promise<Saved> {
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx): Promise<Saved> => {
    const done = await tx.write("UPDATE sequence SET state = 'live' WHERE id = ? AND state = 'paused'", [id])
    if (!done.affected) return gone
    await tx.write(
      "UPDATE enrolment n LEFT JOIN mail m ON m.enrolment_id = n.id AND m.sequence_mail_id IS NOT NULL AND m.state IN ('due', 'held', 'sending') SET n.due_at = ? WHERE n.sequence_id = ? AND n.ended_at IS NULL AND m.id IS NULL",
      [at, id],
    )
    await release(tx, "n.sequence_id = ?", [id], at.getTime())
    return ok
  }, 120_000)
}

/** What putting it live does to those who stand at a step. */
export type Effected = {
  /** The step as it is now in what is live. */
  readonly says: string
  readonly people: number
  /** Where they go on from: "here" where the step is still there; null: it ends for them. */
  readonly goesOn: "here" | { readonly says: string } | null
  /** New e-mails above their place, which they don't get. */
  readonly miss: readonly string[]
}

/** Every place with somebody at it, and what putting the draft live does to them. */
export async function whatItDoes(db: Db, q: SequenceDraft): Promise<Effected[]> {
  const was = q.version === null ? undefined : (await versionById(db, q.version))?.document.flow
  if (!was) return []
  const places = await db.rows<{ step: number; mailed: number | null; n: number }>(
    `SELECT n.step, m.sequence_mail_id AS mailed, COUNT(*) AS n FROM enrolment n
     LEFT JOIN mail m ON m.enrolment_id = n.id AND m.sequence_mail_id IS NOT NULL AND m.state IN ('due', 'held')
     WHERE n.sequence_id = ? AND n.ended_at IS NULL AND n.step IS NOT NULL GROUP BY 1, 2`,
    [q.id],
  )
  const [before, after] = [await stepWords(db, was), await stepWords(db, q.flow)]
  return places.map((p): Effected => {
    const kept = p.mailed !== null && sendStepOf(q.flow, p.mailed) !== undefined
    const from = p.mailed === null || kept ? p.step : (sendStepOf(was, p.mailed)?.id ?? p.step)
    const to = placeIn(q.flow, was, from)
    const miss = to === null ? [] : passedBy(q.flow, was, to)
    return {
      says: before[p.step] ?? "",
      people: p.n,
      goesOn: to === null ? null : kept || to === p.step ? "here" : { says: after[to] ?? "" },
      miss: miss.map((m) => q.mails.find((x) => x.id === m)?.subject || "an e-mail without a subject"),
    }
  })
}

/** Removes a sequence; whoever is in it gets nothing more of it. */
export async function removeSequence(s: Context, id: number): Promise<Saved> {
  return s.db.transaction(async (tx): Promise<Saved> => {
    const begins = await tx.row(
      "SELECT 1 FROM reference WHERE sequence_id = ? AND (from_sequence_id IS NULL OR from_sequence_id <> ?) LIMIT 1",
      [id, id],
    )
    if (begins) return { refused: refusals.sequence.used }
    const done = await tx.write("DELETE FROM sequence WHERE id = ?", [id])
    return done.affected ? ok : gone
  }, 120_000)
}
