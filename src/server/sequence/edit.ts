// Changes to what is being worked on of a sequence: its name and steps, and its e-mails. Readers see none of it until it is
// put live.
import { isDeepStrictEqual } from "node:util"
import * as v from "valibot"
import { type From, fromSchema } from "@/core/mail/from"
import { type Goes, ranks } from "@/core/mail/sending-rules"
import { emptyLetter, flowSchema, type SequenceLetter } from "@/core/sequence/document"
import { allSteps, copyOf, type Flow, freshId, insertFlowStep, type Spot } from "@/core/sequence/flow"
import { mailOf, sequenceStepKinds } from "@/core/sequence/step/list"
import { words } from "@/core/words/en"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { namesOf } from "../names"
import { cleanLetter } from "../page/rich-text"
import { gone, id, type Made, refusal } from "../saved"
import { type Before, reconcile, type SavedShared } from "../shared"
import { insertLetter, loadSequence, lockedSequence, referSequence, storeFlow, updateLetter } from "./store"

const nameRule = v.pipe(
  v.string(),
  v.trim(),
  v.nonEmpty(refusals.value.empty),
  v.maxLength(120, refusals.value.longest(120)),
)

/** How many sequences there may be. */
const atMost = 200

export async function newSequence(s: Context, typed: unknown): Promise<Made> {
  const read = v.safeParse(nameRule, typed)
  if (!read.success) return refusal(read.issues)
  const n = await s.db.row<{ n: number }>("SELECT COUNT(*) AS n FROM sequence")
  if (Number(n?.n) >= atMost) return { refused: refusals.sequence.many }
  const made = await s.db.insert("sequence", { name: read.output, state: "draft", leave_line: words.mail.leaveLine })
  return { ok: true, id: made.id }
}

const input = v.object({
  name: nameRule,
  leaveLine: v.pipe(v.string(), v.trim(), v.maxLength(200, refusals.value.longest(200))),
  from: fromSchema,
  flow: flowSchema,
  goes: v.picklist(["asked", ...ranks]),
})

export type SequenceInput = {
  readonly name: string
  readonly leaveLine: string
  readonly from: From
  readonly flow: Flow
  readonly goes: Goes
}

/** Saves what a sequence is called and does; what isn't given stays as it is. */
export async function saveSequence(
  s: Context,
  sequence: number,
  typed: unknown,
  before?: Before,
): Promise<SavedShared<SequenceInput>> {
  const read = v.safeParse(v.partial(input), typed)
  if (!read.success) return refusal(read.issues)
  return s.db.transaction(async (tx): Promise<SavedShared<SequenceInput>> => {
    const q = await lockedSequence(tx, sequence)
    if (!q) return gone
    const was = {
      revision: q.revision,
      value: { name: q.name, leaveLine: q.leaveLine, from: q.from, flow: q.flow, goes: q.goes },
    }
    const merged = reconcile({ ...was.value, ...read.output } as SequenceInput, was, before)
    if ("clash" in merged) return merged
    const { name, leaveLine, from, flow, goes } = merged.write
    const wrong = wrongIn(flow, q.mails)
    if (wrong) return { refused: wrong }
    if (isDeepStrictEqual(was.value, merged.write)) return was
    await tx.write(
      "UPDATE sequence SET name = ?, leave_line = ?, from_name = ?, reply_to = ?, goes = ?, revision = revision + 1 WHERE id = ?",
      [name, leaveLine, from.name, from.replyTo, goes, sequence],
    )
    await storeFlow(tx, sequence, flow)
    return { revision: q.revision + 1, value: merged.write }
  })
}

/** Why steps can't be kept: a number twice, or an e-mail that is sent twice or isn't this sequence's. */
function wrongIn(flow: Flow, mails: readonly SequenceLetter[]): string | null {
  const steps = allSteps(flow.steps)
  if (new Set(steps.map((s) => s.id)).size < steps.length) return refusals.gone.thing
  if (steps.length > 200) return refusals.sequence.long
  const sent = steps.flatMap((s) => mailOf(s) ?? [])
  const known = new Set(mails.map((m) => m.id))
  return new Set(sent).size < sent.length || sent.some((m) => !known.has(m)) ? refusals.gone.thing : null
}

/** An e-mail to be sent by a step that is yet to be put in; a copy of another where `like` says which. */
export async function addLetter(s: Context, sequence: number, like: number | null = null): Promise<Made> {
  return s.db.transaction(async (tx): Promise<Made> => {
    if (!(await tx.row("SELECT id FROM sequence WHERE id = ?", [sequence]))) return gone
    const copied = like === null ? undefined : await letterById(tx, like)
    return { ok: true, id: await insertLetter(tx, sequence, copied ?? emptyLetter, like) }
  })
}

async function letterById(db: Db, mail: number): Promise<SequenceLetter | undefined> {
  return db.row<SequenceLetter>(
    "SELECT id, subject, preview, body, plain, button, lesson_id AS lessonId, step_id AS stepId FROM sequence_mail WHERE id = ?",
    [mail],
  )
}

/** Copies a step with all that is in it, of this sequence or another, to the end of this one. */
export async function copySequenceStep(
  s: Context,
  from: { readonly sequence: number; readonly step: number },
  to: number,
  spot?: Spot,
): Promise<Made> {
  return s.db.transaction(async (tx): Promise<Made> => {
    const q = await lockedSequence(tx, to)
    const source = await loadSequence(tx, from.sequence)
    const step = source && allSteps(source.flow.steps).find((x) => x.id === from.step)
    if (!q || !step) return gone
    const letters = new Map<number, number>()
    for (const x of allSteps([step])) {
      const mail = mailOf(x)
      const letter = source.mails.find((m) => m.id === mail)
      if (mail !== null && letter) letters.set(mail, await insertLetter(tx, to, letter, mail))
    }
    const copy = copyOf(step, freshId(q.flow.steps), (m) => letters.get(m) ?? m)
    const last = q.flow.steps.at(-1)
    const steps = insertFlowStep(q.flow.steps, spot ?? (last ? { after: last.id } : { first: null }), copy)
    if (!steps) return gone
    if (allSteps(steps).length > 200) return { refused: refusals.sequence.long }
    await storeFlow(tx, to, { ...q.flow, steps })
    await tx.write("UPDATE sequence SET revision = revision + 1 WHERE id = ?", [to])
    return { ok: true, id: copy.id }
  })
}

const mailInput = v.object({
  mail: id,
  subject: v.pipe(
    v.string(),
    v.trim(),
    v.maxLength(200, refusals.funnel.subjectLong(200)),
    v.check((t) => !/[\r\n]/.test(t), refusals.funnel.subjectLine),
  ),
  preview: v.optional(
    v.pipe(
      v.string(),
      v.trim(),
      v.maxLength(200, refusals.value.longest(200)),
      v.check((t) => !/[\r\n]/.test(t), refusals.funnel.subjectLine),
    ),
    "",
  ),
  body: v.pipe(v.string(), v.maxLength(60_000, refusals.funnel.mailLong)),
  plain: v.optional(v.pipe(v.string(), v.maxLength(60_000, refusals.funnel.mailLong)), ""),
  button: v.pipe(v.string(), v.trim(), v.maxLength(80, refusals.funnel.buttonLong(80))),
  lesson: v.nullable(id),
  /** A page of a funnel, instead of a lesson. */
  step: v.nullable(id),
})

export type MailInput = v.InferOutput<typeof mailInput>

const asTyped = (m: SequenceLetter): MailInput => ({
  mail: m.id,
  subject: m.subject,
  preview: m.preview,
  body: m.body,
  plain: m.plain,
  button: m.button,
  lesson: m.lessonId,
  step: m.stepId,
})

export async function saveMail(s: Context, typed: unknown, before?: Before): Promise<SavedShared<MailInput>> {
  const read = v.safeParse(mailInput, typed)
  if (!read.success) return refusal(read.issues)
  return s.db.transaction(async (tx): Promise<SavedShared<MailInput>> => {
    const row = await tx.row<{ sequence: number; revision: number; page: string | null }>(
      "SELECT sequence_id AS sequence, revision, page FROM sequence_mail WHERE id = ? FOR UPDATE",
      [read.output.mail],
    )
    const found = row && (await letterById(tx, read.output.mail))
    if (!row || !found) return gone
    // The body of a page is made of it alone.
    const mine = { ...read.output, body: row.page === null ? cleanLetter(read.output.body) : found.body }
    const stored = { revision: row.revision, value: asTyped(found) }
    const merged = reconcile(mine, stored, before)
    if ("clash" in merged) return merged
    const m = merged.write
    const step =
      m.step === null ? undefined : await tx.row<{ id: number }>("SELECT id FROM step WHERE id = ?", [m.step])
    const lesson =
      m.lesson === null ? undefined : await tx.row<{ id: number }>("SELECT id FROM lesson WHERE id = ?", [m.lesson])
    const changed: SequenceLetter = {
      id: m.mail,
      subject: m.subject,
      preview: m.preview,
      body: m.body,
      plain: m.plain,
      button: m.button,
      lessonId: m.step === null ? (lesson?.id ?? null) : null,
      stepId: step?.id ?? null,
    }
    if (isDeepStrictEqual(found, changed)) return { revision: stored.revision, value: asTyped(changed) }
    await updateLetter(tx, changed)
    await referSequence(tx, row.sequence)
    return { revision: stored.revision + 1, value: asTyped(changed) }
  })
}

/** Which revision of an e-mail stands now, and whether it is a page of more than a text. */
export type MailStands = { readonly revision: number; readonly isPage: boolean }

/** Of each e-mail of a sequence. */
export async function mailsStand(db: Db, sequence: number): Promise<Record<number, MailStands>> {
  const mails = await db.rows<{ id: number; revision: number; isPage: number }>(
    "SELECT id, revision, page IS NOT NULL AS isPage FROM sequence_mail WHERE sequence_id = ?",
    [sequence],
  )
  return Object.fromEntries(mails.map((m) => [m.id, { revision: m.revision, isPage: Boolean(m.isPage) }]))
}

/** Every step in words, by its number. */
export async function stepWords(db: Db, flow: Flow): Promise<Record<number, string>> {
  const steps = allSteps(flow.steps)
  const name = await namesOf(
    db,
    steps.flatMap((x) => sequenceStepKinds[x.kind].refs(x)),
  )
  return Object.fromEntries(steps.map((x) => [x.id, sequenceStepKinds[x.kind].says(x, name)]))
}
