// Changes to what a funnel's draft says: names, addresses, pages, mails. Its structure is changed in steps.ts. Visitors see
// none of it until publish.
import * as v from "valibot"
import type { StepKind } from "@/core/funnel/kinds"
import { isPath } from "@/core/funnel/slug"
import { PageError, readPage } from "@/core/page/document"
import type { Db } from "../db/pool"
import { cleanPage, cleanRichText } from "../page/rich-text"
import type { Surroundings } from "../surroundings"

export type Saved = { readonly ok: true } | { readonly refused: string; readonly field?: string }

const ok = { ok: true } as const
const id = v.pipe(v.number(), v.integer(), v.minValue(1))
const shortText = (what: string) =>
  v.pipe(v.string(), v.trim(), v.nonEmpty(`${what} can't be empty.`), v.maxLength(120, "Keep it to 120 characters."))

function refusal(issues: [v.BaseIssue<unknown>, ...v.BaseIssue<unknown>[]]): Saved {
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

const gone: Saved = { refused: "This is no longer there. Reload the page." }

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

export type PageSaved = { readonly revision: number } | { readonly refused: string }

/**
 * Saves a page as typed. `revision` is the one the editor began from: somebody else's change in between is refused
 * rather than written over.
 */
export async function savePage(s: Surroundings, step: number, revision: number, document: unknown): Promise<PageSaved> {
  let page: ReturnType<typeof cleanPage>
  try {
    page = cleanPage(readPage(document))
  } catch (error) {
    if (error instanceof PageError) return { refused: `The page can't be saved: ${error.message}` }
    throw error
  }
  return s.db.transaction(async (tx): Promise<PageSaved> => {
    const found = await stepOf(tx, step)
    if (!found || found.kind === "learning") return { refused: "This page is no longer there." }
    if (found.revision !== revision)
      return { refused: "This page was changed in another window. Reload it to go on from there." }
    await tx.write("UPDATE step SET page = ?, revision = revision + 1 WHERE id = ?", [JSON.stringify(page), step])
    await touch(tx, found.funnel_id, s)
    return { revision: revision + 1 }
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

export async function saveMail(s: Surroundings, input: unknown): Promise<Saved> {
  const read = v.safeParse(mailInput, input)
  if (!read.success) return refusal(read.issues)
  const m = read.output
  const found = await s.db.row<{ funnel_id: number }>(
    "SELECT q.funnel_id FROM sequence_mail m JOIN sequence q ON q.id = m.sequence_id WHERE m.id = ?",
    [m.mail],
  )
  if (!found) return gone
  await s.db.write(
    "UPDATE sequence_mail SET subject = ?, body = ?, button = ?, lesson_id = (SELECT id FROM lesson WHERE id = ?), step_id = (SELECT id FROM step WHERE id = ? AND funnel_id = ?), after_days = ?, at_minute = ? WHERE id = ?",
    [
      m.subject,
      cleanRichText(m.body),
      m.button,
      m.step === null ? m.lesson : null,
      m.step,
      found.funnel_id,
      m.afterDays,
      m.atMinute,
      m.mail,
    ],
  )
  await touch(s.db, found.funnel_id, s)
  return ok
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

export async function saveSequence(s: Surroundings, input: unknown): Promise<Saved> {
  const read = v.safeParse(
    v.object({
      sequence: id,
      name: shortText("The name"),
      state: v.picklist(["draft", "live"]),
      leaveLine: v.pipe(v.string(), v.trim(), v.maxLength(200)),
    }),
    input,
  )
  if (!read.success) return refusal(read.issues)
  const q = read.output
  const found = await s.db.row<{ funnel_id: number }>("SELECT funnel_id FROM sequence WHERE id = ?", [q.sequence])
  if (!found) return gone
  await s.db.write("UPDATE sequence SET name = ?, state = ?, leave_line = ? WHERE id = ?", [
    q.name,
    q.state,
    q.leaveLine,
    q.sequence,
  ])
  await touch(s.db, found.funnel_id, s)
  return ok
}
