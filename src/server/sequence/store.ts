// Sequences as they are being worked on: read from their tables, and written by this file alone.
import * as v from "valibot"
import type { Sequence, SequenceState } from "@/core/funnel/draft"
import type { From } from "@/core/mail/from"
import type { Goes } from "@/core/mail/sending-rules"
import {
  flowSchema,
  mailsInOrder,
  refsOfFlow,
  refsOfLetter,
  type SequenceLetter,
  stepsOfMails,
} from "@/core/sequence/document"
import type { Flow } from "@/core/sequence/flow"
import type { SequenceMail } from "@/core/sequence/mail"
import type { Db } from "../db/pool"
import { refsBesideBody } from "../mail/page"
import { writeReferences } from "../reference"

export type SequenceDraft = {
  readonly id: number
  readonly name: string
  readonly state: SequenceState
  readonly leaveLine: string
  readonly from: From
  readonly flow: Flow
  /** How its e-mails follow the school's sending rules. */
  readonly goes: Goes
  /** All that were written, also those that no step sends. */
  readonly mails: readonly SequenceLetter[]
  readonly revision: number
  /** What people are taken through; null: it was never live. */
  readonly version: number | null
}

type Row = {
  readonly id: number
  readonly name: string
  readonly state: SequenceState
  readonly leave_line: string
  readonly from_name: string
  readonly reply_to: string
  readonly flow: string
  readonly goes: Goes
  readonly revision: number
  readonly live_version_id: number | null
}

/** Each of these that is there, by number. */
export async function loadSequences(db: Db, ids: readonly number[]): Promise<SequenceDraft[]> {
  if (!ids.length) return []
  const rows = await db.rows<Row>(
    "SELECT id, name, state, leave_line, from_name, reply_to, flow, goes, revision, live_version_id FROM sequence WHERE id IN (?) ORDER BY id",
    [ids],
  )
  const mails = await db.rows<SequenceLetter & { sequence: number }>(
    "SELECT id, sequence_id AS sequence, subject, preview, body, plain, button, lesson_id AS lessonId, step_id AS stepId FROM sequence_mail WHERE sequence_id IN (?) ORDER BY id",
    [ids],
  )
  return rows.map((r) => ({
    id: r.id,
    name: r.name,
    state: r.state,
    leaveLine: r.leave_line,
    from: { name: r.from_name, replyTo: r.reply_to },
    flow: v.parse(flowSchema, JSON.parse(r.flow)),
    goes: r.goes,
    mails: mails.filter((m) => m.sequence === r.id).map(({ sequence: _, ...m }) => m),
    revision: r.revision,
    version: r.live_version_id,
  }))
}

export async function loadSequence(db: Db, id: number): Promise<SequenceDraft | undefined> {
  return (await loadSequences(db, [id]))[0]
}

/** The same, holding its row until the transaction ends. */
export async function lockedSequence(tx: Db, id: number): Promise<SequenceDraft | undefined> {
  await tx.row("SELECT id FROM sequence WHERE id = ? FOR UPDATE", [id])
  return loadSequence(tx, id)
}

/** Sequences as the funnels see them that begin them. */
export async function sequencesForFunnel(db: Db, ids: readonly number[]): Promise<Sequence[]> {
  return (await loadSequences(db, [...new Set(ids)])).map(({ id, name, state, leaveLine, flow, mails }) => ({
    id,
    name,
    state,
    leaveLine,
    mails: mailsInOrder(flow.steps, mails),
  }))
}

/** A new sequence that is a plain series of e-mails. Gives its number, and those of its e-mails by what they were before. */
export async function storeSeries(
  tx: Db,
  q: Pick<Sequence, "name" | "state" | "leaveLine" | "mails">,
): Promise<{ readonly id: number; readonly mails: ReadonlyMap<number, number> }> {
  const { id } = await tx.insert("sequence", {
    name: q.name,
    state: q.state,
    leave_line: q.leaveLine,
    goes: q.mails.some((m) => m.lessonId !== null) ? "asked" : "usual",
  })
  const mails = new Map<number, number>()
  for (const m of q.mails) mails.set(m.id, await insertLetter(tx, id, m))
  const steps = stepsOfMails(q.mails.map((m) => ({ ...m, id: mails.get(m.id)! })))
  await storeFlow(tx, id, { goal: null, steps })
  return { id, mails }
}

/** @param like the e-mail that it is a copy of */
export async function insertLetter(
  tx: Db,
  sequence: number,
  m: Omit<SequenceLetter, "id">,
  like: number | null = null,
): Promise<number> {
  const copied =
    like === null
      ? undefined
      : await tx.row<{ page: string | null }>("SELECT page FROM sequence_mail WHERE id = ?", [like])
  const made = await tx.insert("sequence_mail", {
    sequence_id: sequence,
    subject: m.subject,
    preview: m.preview,
    body: m.body,
    page: copied?.page ?? null,
    plain: m.plain,
    button: m.button,
    lesson_id: m.lessonId,
    step_id: m.stepId,
  })
  return made.id
}

export async function updateLetter(tx: Db, m: SequenceLetter): Promise<void> {
  await tx.write(
    "UPDATE sequence_mail SET subject = ?, preview = ?, body = ?, plain = ?, button = ?, lesson_id = ?, step_id = ?, revision = revision + 1 WHERE id = ?",
    [m.subject, m.preview, m.body, m.plain, m.button, m.lessonId, m.stepId, m.id],
  )
}

export async function storeFlow(tx: Db, id: number, flow: Flow): Promise<void> {
  await tx.update("sequence", id, { flow: JSON.stringify(flow) })
  await referSequence(tx, id)
}

/** Writes what a sequence refers to, in place of what it referred to before. */
export async function referSequence(tx: Db, id: number): Promise<void> {
  const q = await loadSequence(tx, id)
  if (!q) return
  const sent: readonly SequenceMail[] = mailsInOrder(q.flow.steps, q.mails)
  const pages = await mailPages(tx, id)
  await writeReferences(tx, { sequence: id }, [
    ...refsOfFlow(q.flow).map((ref) => ({ from: { sequence: id }, ref })),
    ...sent.flatMap((m) =>
      [...refsOfLetter(m), ...refsBesideBody(pages.get(m.id) ?? null)].map((ref) => ({
        from: { sequence: id, mail: m.id },
        ref,
      })),
    ),
  ])
}

/** The pages of its e-mails that are more than a text, as JSON, by number. */
export async function mailPages(db: Db, sequence: number): Promise<ReadonlyMap<number, string>> {
  const rows = await db.rows<{ id: number; page: string }>(
    "SELECT id, page FROM sequence_mail WHERE sequence_id = ? AND page IS NOT NULL",
    [sequence],
  )
  return new Map(rows.map((r) => [r.id, r.page]))
}
