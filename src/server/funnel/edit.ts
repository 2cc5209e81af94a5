// Changes to what a funnel's draft says: names, addresses, pages. Its structure is changed in steps.ts. Visitors see
// none of it until publish.

import { isDeepStrictEqual } from "node:util"
import * as v from "valibot"
import { stepById } from "@/core/funnel/draft"
import * as draft from "@/core/funnel/edit"
import { isPath } from "@/core/funnel/slug"
import { hasPage } from "@/core/funnel/step/list"
import { pageForm } from "@/core/page/document"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { type PageSaved, readTyped, reconcilePage } from "../page/save"
import { keepVersion } from "../page/version"
import { gone, id, refusal, type Saved } from "../saved"
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
export async function changeFunnel(s: Context, input: unknown): Promise<Saved> {
  const read = v.safeParse(funnelInput, input)
  if (!read.success) return refusal(read.issues)
  const { funnel, ...changed } = read.output
  return change(s, { of: { funnel }, change: (f) => ({ ...f, ...changed }) })
}

/** Name and address of a step. An address that another page has is taken all the same: preflight says what it means. */
export async function changeStep(s: Context, input: unknown): Promise<Saved> {
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
  s: Context,
  step: number,
  revision: number,
  document: unknown,
  base?: unknown,
): Promise<PageSaved> {
  const typed = readTyped(document, base)
  if ("refused" in typed) return typed
  let saved: PageSaved = gone
  const at = await s.clock.now()
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
      await keepVersion(tx, { step }, { before: found.page, after: merged, at, actor: s.actor })
      const next = { revision: isDeepStrictEqual(found.page, merged) ? now : now + 1 }
      saved = merged === typed.page ? next : { ...next, page: merged }
      return changed
    },
  })
  return "refused" in done ? done : saved
}

/** All pages of a step's funnel in the first screen, ground and width that are given; what isn't is as the look has it. */
export async function wearAlike(s: Context, step: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(pageForm, typed)
  if (!read.success) return refusal(read.issues)
  return change(s, { of: { step }, change: (f) => draft.wearAlike(f, read.output) })
}

/** Which revision of something is stored; whoever asks holds its funnel's row. */
async function revisionOf(tx: Db, sql: string, of: number): Promise<number> {
  return (await tx.row<{ revision: number }>(sql, [of]))?.revision ?? 1
}
