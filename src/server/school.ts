// The school's own settings.

import * as v from "valibot"
import { knownZone } from "@/core/calendar/zone"
import { type Currency, currencies } from "@/core/offer/money"
import { statementProblem } from "@/core/offer/statement"
import { parseAddress } from "@/core/person/address"
import { refusals } from "@/core/words/refusals"
import type { Context } from "./context"
import type { Db } from "./db/pool"
import { id } from "./saved"
import { schoolRow } from "./school-view"
import { type Before, reconcile, type SavedShared, type Stored } from "./shared"

const oneLine = (most: number) =>
  v.pipe(
    v.string(),
    v.trim(),
    v.maxLength(most, refusals.value.longest(most)),
    v.check((t) => !/\p{Cc}/u.test(t), refusals.value.oneLine),
  )

const input = v.object({
  name: v.pipe(oneLine(120), v.nonEmpty(refusals.school.name)),
  senderName: oneLine(120),
  senderEmail: v.pipe(
    oneLine(254),
    v.check((e) => e === "" || parseAddress(e) !== null, refusals.value.email),
  ),
  postalAddress: oneLine(400),
  zone: v.pipe(
    v.string(),
    v.check((z) => knownZone(z, "") !== "", refusals.school.zone),
  ),
  currency: v.picklist(currencies, refusals.value.currency),
  /** Hundredths of a percent. */
  taxRate: v.pipe(
    v.number(refusals.school.taxRate),
    v.integer(refusals.value.twoDigits),
    v.minValue(0, refusals.school.taxLeast),
    v.maxValue(10_000, refusals.value.wholePercent),
  ),
  taxIncluded: v.boolean(),
  /** The funnel whose first page stands at `/`; null: a front page made from what is live. */
  front: v.nullable(id),
  statement: v.pipe(
    v.string(),
    v.trim(),
    v.rawCheck(({ dataset, addIssue }) => {
      const problem = dataset.typed && dataset.value !== "" ? statementProblem(dataset.value) : null
      if (problem) addIssue({ message: problem })
    }),
  ),
})

export type SchoolInput = v.InferOutput<typeof input>

/** The school's settings, as they are typed. */
export async function readSchool(db: Db): Promise<Stored<SchoolInput>> {
  const row = (await schoolRow(db))!
  return {
    revision: row.revision,
    value: {
      name: row.name,
      senderName: row.sender_name,
      senderEmail: row.sender_email,
      postalAddress: row.postal_address,
      zone: row.zone,
      currency: row.currency as Currency,
      taxRate: row.tax_rate,
      taxIncluded: Boolean(row.tax_included),
      front: row.front_funnel_id,
      statement: row.statement,
    },
  }
}

export async function saveSchool(s: Context, typed: unknown, before?: Before): Promise<SavedShared<SchoolInput>> {
  const read = v.safeParse(input, typed)
  if (!read.success) {
    const issue = read.issues[0]
    return { refused: issue.message, field: v.getDotPath(issue) ?? undefined }
  }
  return s.db.transaction(async (tx) => {
    await tx.row("SELECT id FROM school WHERE id = 1 FOR UPDATE")
    const done = reconcile(read.output, await readSchool(tx), before)
    if ("clash" in done) return done
    const f = done.write
    await tx.write(
      "UPDATE school SET name = ?, sender_name = ?, sender_email = ?, postal_address = ?, zone = ?, currency = ?, tax_rate = ?, tax_included = ?, statement = ?, front_funnel_id = (SELECT id FROM funnel WHERE id = ?), revision = revision + 1 WHERE id = 1",
      [
        f.name,
        f.senderName,
        f.senderEmail,
        f.postalAddress,
        f.zone,
        f.currency,
        f.taxRate,
        f.taxIncluded ? 1 : 0,
        f.statement,
        f.front,
      ],
    )
    return readSchool(tx)
  })
}
