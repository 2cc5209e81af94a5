// Changes to what a funnel's draft says: names, addresses, pages, mails. Its structure is changed in steps.ts. Visitors see
// none of it until publish.

import { isDeepStrictEqual } from "node:util"
import * as v from "valibot"
import type { SequenceMail } from "@/core/funnel/draft"
import { stepById } from "@/core/funnel/draft"
import * as draft from "@/core/funnel/edit"
import { isPath } from "@/core/funnel/slug"
import { hasPage } from "@/core/funnel/step/list"
import { refusals } from "@/core/words/refusals"
import type { Db } from "../db/pool"
import { cleanRichText } from "../page/rich-text"
import { type PageSaved, readTyped, reconcilePage } from "../page/save"
import { gone, id, type Refused, refusal, type Saved } from "../saved"
import { type Before, reconcile, type SavedShared } from "../shared"
import type { Surroundings } from "../surroundings"
import { change, changeDraft } from "./change"

const shortText = (what: string) =>
  v.pipe(v.string(), v.trim(), v.nonEmpty(`${what} can't be empty.`), v.maxLength(120, refusals.value.longest(120)))

const wholeDays = refusals.funnel.againDays
const funnelInput = v.object({
  funnel: id,
  name: v.optional(shortText("The name")),
  againAfter: v.optional(
    v.nullable(
      v.pipe(v.number(wholeDays), v.integer(wholeDays), v.minValue(1, wholeDays), v.maxValue(3650, wholeDays)),
    ),
  ),
})

/** What is said of a whole funnel; what isn't given stays as it is. */
export async function changeFunnel(s: Surroundings, input: unknown): Promise<Saved> {
  const read = v.safeParse(funnelInput, input)
  if (!read.success) return refusal(read.issues)
  const { funnel, ...changed } = read.output
  return change(s, { of: { funnel }, change: (f) => ({ ...f, ...changed }) })
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
  return change(s, {
    of: { step },
    change(f) {
      const found = stepById(f, step)
      if (found && hasPage(found.kind) && !isPath(path))
        return {
          refused: refusals.funnel.address,
          field: "path",
        }
      return draft.renameStep(f, step, name, path)
    },
  })
}

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
  const typed = readTyped(document, base)
  if ("refused" in typed) return typed
  let saved: PageSaved = gone
  const done = await changeDraft(s, {
    of: { step },
    async change(f, tx) {
      const found = stepById(f, step)
      if (!found || !hasPage(found.kind) || !found.page) return { refused: refusals.gone.page }
      const now = await revisionOf(tx, "SELECT revision FROM step WHERE id = ?", step)
      const both = reconcilePage(typed, revision, found.page, now)
      if ("refused" in both) return both
      if ("clash" in both) {
        saved = both
        return f
      }
      const merged = both.write
      const changed = draft.changePage(f, step, merged)
      const next = { revision: isDeepStrictEqual(found.page, merged) ? now : now + 1 }
      saved = merged === typed.page ? next : { ...next, page: merged }
      return changed
    },
  })
  return "refused" in done ? done : saved
}

/** Which revision of something is stored; whoever asks holds its funnel's row. */
async function revisionOf(tx: Db, sql: string, of: number): Promise<number> {
  return (await tx.row<{ revision: number }>(sql, [of]))?.revision ?? 1
}

const mailInput = v.object({
  mail: id,
  subject: v.pipe(
    v.string(),
    v.trim(),
    v.maxLength(200, refusals.funnel.subjectLong(200)),
    v.check((t) => !/[\r\n]/.test(t), refusals.funnel.subjectLine),
  ),
  body: v.pipe(v.string(), v.maxLength(60_000, refusals.funnel.mailLong)),
  button: v.pipe(v.string(), v.trim(), v.maxLength(80, refusals.funnel.buttonLong(80))),
  lesson: v.nullable(id),
  // A page of the funnel, instead of a lesson.
  step: v.nullable(id),
  afterDays: v.pipe(
    v.number(),
    v.integer(refusals.value.wholeDays),
    v.minValue(0),
    v.maxValue(365, refusals.funnel.days(365)),
  ),
  atMinute: v.nullable(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1439))),
})

type MailInput = v.InferOutput<typeof mailInput>

const mailAsTyped = (m: SequenceMail): MailInput => ({
  mail: m.id,
  subject: m.subject,
  body: m.body,
  button: m.button,
  lesson: m.lessonId,
  step: m.stepId,
  afterDays: m.afterDays,
  atMinute: m.atMinute,
})

export async function saveMail(s: Surroundings, input: unknown, before?: Before): Promise<SavedShared<MailInput>> {
  const read = v.safeParse(mailInput, input)
  if (!read.success) return refusal(read.issues)
  const typed = { ...read.output, body: cleanRichText(read.output.body) }
  const { mail } = typed
  const sql = "SELECT revision FROM sequence_mail WHERE id = ?"
  let saved: SavedShared<MailInput> = gone
  const done = await changeDraft(s, {
    of: { mail },
    async change(f, tx) {
      const found = f.sequences.flatMap((q) => q.mails).find((m) => m.id === mail)
      if (!found) return null
      const stored = { revision: await revisionOf(tx, sql, mail), value: mailAsTyped(found) }
      const merged = reconcile(typed, stored, before)
      if ("clash" in merged) {
        saved = merged
        return f
      }
      const m = merged.write
      const step = stepById(f, m.step)?.id ?? null
      const lesson =
        m.lesson === null ? undefined : await tx.row<{ id: number }>("SELECT id FROM lesson WHERE id = ?", [m.lesson])
      const changed: SequenceMail = {
        id: mail,
        afterDays: m.afterDays,
        atMinute: m.atMinute,
        subject: m.subject,
        body: m.body,
        button: m.button,
        lessonId: m.step === null ? (lesson?.id ?? null) : null,
        stepId: step,
      }
      const revision = isDeepStrictEqual(found, changed) ? stored.revision : stored.revision + 1
      saved = { revision, value: mailAsTyped(changed) }
      return draft.changeMail(f, mail, () => changed)
    },
  })
  return "refused" in done ? done : saved
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

const emptyMail: Omit<SequenceMail, "id"> = {
  afterDays: 1,
  atMinute: 450,
  subject: "",
  body: "",
  button: "",
  lessonId: null,
  stepId: null,
}

export async function addMail(
  s: Surroundings,
  sequence: number,
): Promise<{ readonly ok: true; readonly mail: number } | Refused> {
  const done = await changeDraft(s, { of: { sequence }, change: (f) => draft.addMail(f, sequence, emptyMail) })
  return "refused" in done ? done : { ok: true, mail: done.newMail ?? 0 }
}

export async function removeMail(s: Surroundings, mail: number): Promise<Saved> {
  return change(s, { of: { mail }, change: (f) => draft.removeMail(f, mail) })
}

const sequenceInput = v.object({
  sequence: id,
  name: shortText("The name"),
  state: v.picklist(["draft", "live"]),
  leaveLine: v.pipe(v.string(), v.trim(), v.maxLength(200, refusals.value.longest(200))),
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
  let saved: SavedShared<SequenceInput> = gone
  const done = await changeDraft(s, {
    of: { sequence },
    async change(f, tx) {
      const q = f.sequences.find((x) => x.id === sequence)
      if (!q) return null
      const value: SequenceInput = { sequence, name: q.name, state: q.state, leaveLine: q.leaveLine }
      const revision = await revisionOf(tx, "SELECT revision FROM sequence WHERE id = ?", sequence)
      const merged = reconcile(read.output, { revision, value }, before)
      if ("clash" in merged) {
        saved = merged
        return f
      }
      const { sequence: _, ...changed } = merged.write
      saved = { revision: isDeepStrictEqual(value, merged.write) ? revision : revision + 1, value: merged.write }
      return draft.changeSequence(f, sequence, (x) => ({ ...x, ...changed }))
    },
  })
  return "refused" in done ? done : saved
}
