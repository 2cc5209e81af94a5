// Who teaches, written once for the school.
import * as v from "valibot"
import type { TeacherCard } from "@/core/page/compile"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { type PictureRow, pictureColumns, pictureOf } from "../pictures"
import { type Made, refusal } from "../saved"
import { type Before, reconcile, type SavedShared, type Stored } from "../shared"

const input = v.object({
  name: v.pipe(v.string(), v.trim(), v.nonEmpty(refusals.teacher.name), v.maxLength(120, refusals.value.longest(120))),
  about: v.pipe(v.string(), v.trim(), v.maxLength(2000, refusals.value.longest(2000))),
  media: v.nullable(v.number()),
})

export type TeacherInput = v.InferOutput<typeof input>
export type TeacherRead = { readonly id: number } & Stored<TeacherInput>

const stored = (t: Row<"teacher">): TeacherRead => ({
  id: t.id,
  revision: t.revision,
  value: { name: t.name, about: t.about, media: t.media_id },
})

export async function listTeachers(db: Db): Promise<TeacherRead[]> {
  return (await db.rows<Row<"teacher">>("SELECT * FROM teacher ORDER BY position, id LIMIT 200")).map(stored)
}

/** As pages show them, by number. */
export async function teacherCards(db: Db): Promise<Map<number, TeacherCard>> {
  const rows = await db.rows<Pick<Row<"teacher">, "id" | "name" | "about"> & PictureRow>(
    `SELECT t.id, t.name, t.about, ${pictureColumns} FROM teacher t LEFT JOIN media m ON m.id = t.media_id`,
  )
  return new Map(rows.map((t) => [t.id, { name: t.name, about: t.about, portrait: pictureOf(t) }]))
}

export async function newTeacher(s: Context, typed: unknown): Promise<Made> {
  const read = v.safeParse(input, typed)
  if (!read.success) return refusal(read.issues)
  const { name, about, media } = read.output
  const last = await s.db.row<{ n: number }>("SELECT COALESCE(MAX(position), 0) AS n FROM teacher")
  const made = await s.db.insert("teacher", { name, about, media_id: media, position: (last?.n ?? 0) + 1 })
  return { ok: true, id: made.id }
}

/** Published pages show it when they are published again. */
export async function saveTeacher(
  s: Context,
  id: number,
  typed: unknown,
  before?: Before,
): Promise<SavedShared<TeacherInput>> {
  const read = v.safeParse(input, typed)
  if (!read.success) return refusal(read.issues)
  return s.db.transaction(async (tx): Promise<SavedShared<TeacherInput>> => {
    const row = () => tx.row<Row<"teacher">>("SELECT * FROM teacher WHERE id = ? FOR UPDATE", [id])
    const was = await row()
    if (!was) return { refused: refusals.gone.teacher }
    const done = reconcile(read.output, stored(was), before)
    if ("clash" in done) return done
    const { name, about, media } = done.write
    await tx.write("UPDATE teacher SET name = ?, about = ?, media_id = ?, revision = revision + 1 WHERE id = ?", [
      name,
      about,
      media,
      id,
    ])
    return stored((await row())!)
  })
}

/** Pages on which they stood show them no longer when they are published again. */
export async function removeTeacher(s: Context, id: number): Promise<void> {
  await s.db.write("DELETE FROM teacher WHERE id = ?", [id])
}
