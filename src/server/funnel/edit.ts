// Changes to what a funnel's draft says: names, addresses, pages, mails. Its structure is changed in steps.ts. Visitors see
// none of it until publish.
import * as v from "valibot"
import type { StepKind } from "@/core/funnel/kinds"
import { isPath } from "@/core/funnel/slug"
import { type Page, PageError, readPage } from "@/core/page/document"
import { mergePages } from "@/core/page/merge"
import type { Db } from "../db/pool"
import { cleanPage, cleanRichText } from "../page/rich-text"
import { type Before, type Clash, reconcile, type Stored } from "../shared"
import type { Surroundings } from "../surroundings"

export type Saved = { readonly ok: true } | { readonly refused: string; readonly field?: string }

const ok = { ok: true } as const
const id = v.pipe(v.number(), v.integer(), v.minValue(1))
const shortText = (what: string) =>
  v.pipe(v.string(), v.trim(), v.nonEmpty(`${what} can't be empty.`), v.maxLength(120, "Keep it to 120 characters."))

function refusal(issues: [v.BaseIssue<unknown>, ...v.BaseIssue<unknown>[]]): { refused: string; field?: string } {
  const field = v.getDotPath(issues[0]) ?? undefined
  return { refused: issues[0].message, field }
}

async function touch(tx: Db, funnel: number, s: Surroundings): Promise<void> {
  await tx.write("UPDATE funnel SET changed_at = ? WHERE id = ?", [new Date(await s.clock.now()), funnel])
}

async function stepOf(tx: Db, step: number) {
  return tx.row<{ id: number; funnel_id: number; kind: StepKind; revision: number }>(
    "SELECT id, funnel_id, kind, revision FROM step WHERE id = ? FOR UPDATE",
    [step],
  )
}

const gone = { refused: "This is no longer there. Reload the page." } as const

export async function renameFunnel(s: Surroundings, input: unknown): Promise<Saved> {
  const read = v.safeParse(v.object({ funnel: id, name: shortText("The name") }), input)
  if (!read.success) return refusal(read.issues)
  await s.db.write("UPDATE funnel SET name = ? WHERE id = ?", [read.output.name, read.output.funnel])
  await touch(s.db, read.output.funnel, s)
  return ok
}

/** Name and address of a step. An address that another page has is taken all the same: preflight says what it means. */
export async function changeStep(s: Surroundings, input: unknown): Promise<Saved> {
  const read = v.safeParse(
    v.object({ step: id, name: shortText("The name"), path: v.pipe(v.string(), v.trim(), v.maxLength(160)) }),
    input,
  )
  if (!read.success) return refusal(read.issues)
  const { step, name } = read.output
  const path = read.output.path.replace(/^\/+|\/+$/g, "")
  return s.db.transaction(async (tx) => {
    const found = await stepOf(tx, step)
    if (!found) return gone
    if (found.kind !== "learning" && !isPath(path))
      return {
        refused:
          "An address has small letters, digits and hyphens, and can't begin with a word that is ours, such as studio or learn.",
        field: "path",
      }
    await tx.write("UPDATE step SET name = ?, path = ? WHERE id = ?", [
      name,
      found.kind === "learning" ? "" : path,
      step,
    ])
    await touch(tx, found.funnel_id, s)
    return ok
  })
}

export type PageSaved =
  /** `page`: what stands there now, where another window's changes came in. */
  | { readonly revision: number; readonly page?: Page }
  /** Another window changed the same blocks; `theirs` is what it made of the page. */
  | { readonly clash: readonly string[]; readonly theirs: Page; readonly revision: number }
  | { readonly refused: string }

/**
 * Saves a page as typed. `revision` is the one the editor began from, and `base` the page as it was then: what another
 * window has changed in between is merged by block, and told where both changed the same one.
 */
export async function savePage(
  s: Surroundings,
  step: number,
  revision: number,
  document: unknown,
  base?: unknown,
): Promise<PageSaved> {
  let page: Page
  let from: Page | null
  try {
    page = cleanPage(readPage(document))
    from = base === undefined ? null : cleanPage(readPage(base))
  } catch (error) {
    if (error instanceof PageError) return { refused: `The page can't be saved: ${error.message}` }
    throw error
  }
  return s.db.transaction(async (tx): Promise<PageSaved> => {
    const found = await stepOf(tx, step)
    if (!found || found.kind === "learning") return { refused: "This page is no longer there." }
    let merged = page
    if (found.revision !== revision) {
      if (!from) return { refused: "This page was changed in another window. Reload it to go on from there." }
      const row = await tx.row<{ page: string }>("SELECT page FROM step WHERE id = ?", [step])
      const theirs = readPage(JSON.parse(row!.page))
      const both = mergePages(from, page, theirs)
      if (both.clashes.length) return { clash: both.clashes, theirs, revision: found.revision }
      merged = both.merged
    }
    await tx.write("UPDATE step SET page = ?, revision = revision + 1 WHERE id = ?", [JSON.stringify(merged), step])
    await touch(tx, found.funnel_id, s)
    const next = { revision: found.revision + 1 }
    return merged === page ? next : { ...next, page: merged }
  })
}

const mailInput = v.object({
  mail: id,
  subject: v.pipe(
    v.string(),
    v.trim(),
    v.maxLength(200, "Keep the subject to 200 characters."),
    v.check((t) => !/[\r\n]/.test(t), "A subject is one line."),
  ),
  body: v.pipe(v.string(), v.maxLength(60_000, "This is too long for one e-mail.")),
  button: v.pipe(v.string(), v.trim(), v.maxLength(80, "Keep the button to 80 characters.")),
  lesson: v.nullable(id),
  // A page of the funnel, instead of a lesson.
  step: v.nullable(id),
  afterDays: v.pipe(v.number(), v.integer("Whole days, please."), v.minValue(0), v.maxValue(365, "At most 365 days.")),
  atMinute: v.nullable(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1439))),
})

type MailInput = v.InferOutput<typeof mailInput>
export type SavedShared<T> = Stored<T> | Clash<T> | { readonly refused: string; readonly field?: string }

async function storedMail(tx: Db, mail: number): Promise<(Stored<MailInput> & { funnel: number }) | undefined> {
  const m = await tx.row<{
    funnel_id: number
    subject: string
    body: string
    button: string
    lesson_id: number | null
    step_id: number | null
    after_days: number
    at_minute: number | null
    revision: number
  }>(
    "SELECT q.funnel_id, m.subject, m.body, m.button, m.lesson_id, m.step_id, m.after_days, m.at_minute, m.revision FROM sequence_mail m JOIN sequence q ON q.id = m.sequence_id WHERE m.id = ? FOR UPDATE",
    [mail],
  )
  return (
    m && {
      funnel: m.funnel_id,
      revision: m.revision,
      value: {
        mail,
        subject: m.subject,
        body: m.body,
        button: m.button,
        lesson: m.lesson_id,
        step: m.step_id,
        afterDays: m.after_days,
        atMinute: m.at_minute,
      },
    }
  )
}

export async function saveMail(s: Surroundings, input: unknown, before?: Before): Promise<SavedShared<MailInput>> {
  const read = v.safeParse(mailInput, input)
  if (!read.success) return refusal(read.issues)
  const typed = { ...read.output, body: cleanRichText(read.output.body) }
  return s.db.transaction(async (tx): Promise<SavedShared<MailInput>> => {
    const stored = await storedMail(tx, typed.mail)
    if (!stored) return gone
    const done = reconcile(typed, stored, before)
    if ("clash" in done) return done
    const m = done.write
    await tx.write(
      "UPDATE sequence_mail SET subject = ?, body = ?, button = ?, lesson_id = (SELECT id FROM lesson WHERE id = ?), step_id = (SELECT id FROM step WHERE id = ? AND funnel_id = ?), after_days = ?, at_minute = ?, revision = revision + 1 WHERE id = ?",
      [
        m.subject,
        m.body,
        m.button,
        m.step === null ? m.lesson : null,
        m.step,
        stored.funnel,
        m.afterDays,
        m.atMinute,
        m.mail,
      ],
    )
    await touch(tx, stored.funnel, s)
    const now = (await storedMail(tx, m.mail))!
    return { revision: now.revision, value: now.value }
  })
}

/** Which revision of a sequence and of each of its mails stands now. */
export async function sequenceRevisions(
  db: Db,
  sequence: number,
): Promise<{ sequence: number; mails: Record<number, number> }> {
  const head = await db.row<{ revision: number }>("SELECT revision FROM sequence WHERE id = ?", [sequence])
  const mails = await db.rows<{ id: number; revision: number }>(
    "SELECT id, revision FROM sequence_mail WHERE sequence_id = ?",
    [sequence],
  )
  return { sequence: head?.revision ?? 1, mails: Object.fromEntries(mails.map((m) => [m.id, m.revision])) }
}

export async function addMail(s: Surroundings, sequence: number): Promise<Saved & { mail?: number }> {
  return s.db.transaction(async (tx) => {
    const found = await tx.row<{ funnel_id: number }>("SELECT funnel_id FROM sequence WHERE id = ? FOR UPDATE", [
      sequence,
    ])
    if (!found) return gone
    const last = await tx.row<{ n: number }>(
      "SELECT COALESCE(MAX(position), -1) + 1 AS n FROM sequence_mail WHERE sequence_id = ?",
      [sequence],
    )
    const made = await tx.write(
      "INSERT INTO sequence_mail (sequence_id, position, after_days, at_minute, subject, body) VALUES (?, ?, 1, 450, '', '')",
      [sequence, Number(last?.n ?? 0)],
    )
    await touch(tx, found.funnel_id, s)
    return { ok: true, mail: made.id }
  })
}

export async function removeMail(s: Surroundings, mail: number): Promise<Saved> {
  const found = await s.db.row<{ funnel_id: number }>(
    "SELECT q.funnel_id FROM sequence_mail m JOIN sequence q ON q.id = m.sequence_id WHERE m.id = ?",
    [mail],
  )
  if (!found) return gone
  await s.db.write("DELETE FROM sequence_mail WHERE id = ?", [mail])
  await touch(s.db, found.funnel_id, s)
  return ok
}

const sequenceInput = v.object({
  sequence: id,
  name: shortText("The name"),
  state: v.picklist(["draft", "live"]),
  leaveLine: v.pipe(v.string(), v.trim(), v.maxLength(200, "Keep it to 200 characters.")),
})
type SequenceInput = v.InferOutput<typeof sequenceInput>

export async function saveSequence(
  s: Surroundings,
  input: unknown,
  before?: Before,
): Promise<SavedShared<SequenceInput>> {
  const read = v.safeParse(sequenceInput, input)
  if (!read.success) return refusal(read.issues)
  const { sequence } = read.output
  return s.db.transaction(async (tx): Promise<SavedShared<SequenceInput>> => {
    const row = () =>
      tx.row<{ funnel_id: number; name: string; state: "draft" | "live"; leave_line: string; revision: number }>(
        "SELECT funnel_id, name, state, leave_line, revision FROM sequence WHERE id = ? FOR UPDATE",
        [sequence],
      )
    const found = await row()
    if (!found) return gone
    const stored = (q: typeof found): Stored<SequenceInput> => ({
      revision: q.revision,
      value: { sequence, name: q.name, state: q.state, leaveLine: q.leave_line },
    })
    const done = reconcile(read.output, stored(found), before)
    if ("clash" in done) return done
    const q = done.write
    await tx.write("UPDATE sequence SET name = ?, state = ?, leave_line = ?, revision = revision + 1 WHERE id = ?", [
      q.name,
      q.state,
      q.leaveLine,
      sequence,
    ])
    await touch(tx, found.funnel_id, s)
    return stored((await row())!)
  })
}
