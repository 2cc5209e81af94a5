// The school's fields, and what is known of each person by them.

import * as v from "valibot"
import { readJson, strings } from "@/core/json"
import {
  type Field,
  type FieldKind,
  fieldKinds,
  foldValue,
  isChosen,
  numberIn,
  readValue,
  showValue,
} from "@/core/person/field"
import { words } from "@/core/words/en"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { type Use, usesOf } from "../reference"
import { gone, type Made, ok, type Refused, refusal, type Saved } from "../saved"

/** How many fields there may be. */
const atMost = 50

/** In the order they were made. */
export async function listFields(db: Db): Promise<Field[]> {
  const fields = await db.rows<{ id: number; label: string; kind: FieldKind }>(
    "SELECT id, label, kind FROM field ORDER BY id LIMIT ?",
    [atMost],
  )
  if (!fields.length) return []
  const choices = await db.rows<{ id: number; of: number; says: string }>(
    "SELECT id, field_id AS `of`, says FROM choice WHERE field_id IN (?) ORDER BY position, id",
    [fields.map((f) => f.id)],
  )
  return fields.map((f) => ({
    ...f,
    choices: choices.filter((c) => c.of === f.id).map(({ id, says }) => ({ id, says })),
  }))
}

export type FieldListed = Field & { readonly people: number; readonly uses: number }

/** What each field is and was called: personal words in subjects may say an older name. */
export async function fieldNames(db: Db): Promise<{ readonly id: number; readonly names: readonly string[] }[]> {
  const rows = await db.rows<{ id: number; label: string; former: string }>(
    "SELECT id, label, former FROM field LIMIT ?",
    [atMost],
  )
  return rows.map((r) => ({ id: r.id, names: [...readJson(strings, r.former), r.label] }))
}

/** The same, each with of how many people it is known and in how many places it is used. */
export async function fieldsListed(db: Db): Promise<FieldListed[]> {
  const rows = await db.rows<{ id: number; people: number; uses: number }>(
    `SELECT f.id, (SELECT COUNT(*) FROM person_field p WHERE p.field_id = f.id) AS people,
       (SELECT COUNT(*) FROM reference r WHERE r.field_id = f.id) + (SELECT COUNT(*) FROM reference r JOIN choice c ON c.id = r.choice_id WHERE c.field_id = f.id)
         + (SELECT COUNT(*) FROM effect e LEFT JOIN choice c ON c.id = e.on_choice_id WHERE e.on_field_id = f.id OR c.field_id = f.id) AS uses
     FROM field f`,
  )
  const counts = new Map(rows.map((r) => [r.id, r]))
  return (await listFields(db)).map((f) => ({
    ...f,
    people: counts.get(f.id)?.people ?? 0,
    uses: counts.get(f.id)?.uses ?? 0,
  }))
}

/** Where a field or one of its choices is used. */
export async function usesOfField(db: Db, f: Field): Promise<Use[]> {
  const all = [await usesOf(db, "field", f.id)]
  for (const c of f.choices) all.push(await usesOf(db, "choice", c.id))
  const seen = new Set<string>()
  return all.flat().filter((u) => {
    const key = `${u.says} ${u.use}`
    return seen.has(key) ? false : seen.add(key)
  })
}

const line = (most: number) =>
  v.pipe(
    v.string(),
    v.trim(),
    // Personal words stand in guillemets with a comma in them.
    v.transform((s) =>
      s
        .replace(/[\p{Cc}‹›,]+/gu, " ")
        .replace(/\s+/g, " ")
        .trim(),
    ),
    v.nonEmpty(refusals.value.empty),
    v.maxLength(most, refusals.value.longest(most)),
  )

const fieldInput = v.object({ label: line(60), kind: v.picklist(fieldKinds) })

/** Whether a label means something else in personal words, or did; `but`: a field that may have it. */
async function isTaken(tx: Db, label: string, but = 0): Promise<boolean> {
  const others = (await fieldNames(tx)).filter((f) => f.id !== but).flatMap((f) => f.names)
  return [...Object.values(words.chip), ...others].some((w) => foldValue(w) === foldValue(label))
}

export async function newField(s: Context, typed: unknown): Promise<Made> {
  const read = v.safeParse(fieldInput, typed)
  if (!read.success) return refusal(read.issues)
  const { label, kind } = read.output
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx): Promise<Made> => {
    const all = await tx.rows<{ label: string }>("SELECT label FROM field FOR UPDATE")
    if (all.length >= atMost) return { refused: refusals.person.manyFields }
    if (await isTaken(tx, label)) return { refused: refusals.person.fieldThere, field: "label" }
    const { id } = await tx.insert("field", { label, kind, made_at: at })
    if (kind === "yes-no")
      await tx.insert("choice", [
        { field_id: id, position: 0, says: words.page.yes },
        { field_id: id, position: 1, says: words.page.no },
      ])
    return { ok: true, id }
  })
}

/** Gives a field another name; personal words in subjects that say an older one still mean it. */
export async function renameField(s: Context, id: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(line(60), typed)
  if (!read.success) return refusal(read.issues)
  const label = read.output
  return s.db.transaction(async (tx): Promise<Saved> => {
    const was = await tx.row<{ label: string; former: string }>(
      "SELECT label, former FROM field WHERE id = ? FOR UPDATE",
      [id],
    )
    if (!was) return gone
    if (await isTaken(tx, label, id)) return { refused: refusals.person.fieldThere, field: "label" }
    const former = [...readJson(strings, was.former), was.label].filter((n) => n !== label).slice(-10)
    await tx.update("field", id, { label, former: JSON.stringify(former) })
    return ok
  })
}

const choiceInput = v.object({ id: v.nullable(v.number()), says: line(80) })
const choicesInput = v.pipe(v.array(choiceInput), v.minLength(1), v.maxLength(50))

/** What can be chosen, in its order. One that is left out and used somewhere is refused; of people who chose it nothing is known then. */
export async function saveChoices(s: Context, id: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(choicesInput, typed)
  if (!read.success) return refusal(read.issues)
  const said = read.output.map((c) => foldValue(c.says))
  if (new Set(said).size < said.length) return { refused: refusals.person.choiceTwice, field: "choices" }
  return s.db.transaction(async (tx): Promise<Saved> => {
    const field = await tx.row<{ kind: FieldKind }>("SELECT kind FROM field WHERE id = ? FOR UPDATE", [id])
    if (field?.kind !== "choice") return gone
    const there = await tx.rows<{ id: number; says: string }>("SELECT id, says FROM choice WHERE field_id = ?", [id])
    const kept = new Set(read.output.map((c) => c.id))
    const left = there.filter((c) => !kept.has(c.id))
    if (left.length) {
      const used = await tx.row<{ says: string }>(
        "SELECT c.says FROM choice c WHERE c.id IN (?) AND (EXISTS (SELECT 1 FROM reference r WHERE r.choice_id = c.id) OR EXISTS (SELECT 1 FROM effect e WHERE e.on_choice_id = c.id)) LIMIT 1",
        [left.map((c) => c.id)],
      )
      if (used) return { refused: refusals.person.choiceUsed(used.says), field: "choices" }
      await tx.write("DELETE FROM person_field WHERE field_id = ? AND value IN (?)", [
        id,
        left.map((c) => String(c.id)),
      ])
      await tx.write("DELETE FROM choice WHERE id IN (?)", [left.map((c) => c.id)])
    }
    // Two that change names with each other would meet halfway.
    await tx.write("UPDATE choice SET says = CONCAT('#', id) WHERE field_id = ?", [id])
    for (const [position, c] of read.output.entries())
      if (c.id !== null && there.some((x) => x.id === c.id)) await tx.update("choice", c.id, { says: c.says, position })
      else await tx.insert("choice", { field_id: id, position, says: c.says })
    return ok
  })
}

/** Takes a field away, with what is known of people by it. One that is used somewhere stays. */
export async function removeField(s: Context, id: number): Promise<Saved> {
  return s.db.transaction(async (tx): Promise<Saved> => {
    if (!(await tx.row("SELECT 1 FROM field WHERE id = ? FOR UPDATE", [id]))) return gone
    const used = await tx.row(
      `SELECT 1 FROM field f LEFT JOIN choice c ON c.field_id = f.id WHERE f.id = ? AND (EXISTS (SELECT 1 FROM reference r WHERE r.field_id = f.id OR r.choice_id = c.id)
         OR EXISTS (SELECT 1 FROM effect e WHERE e.on_field_id = f.id OR e.on_choice_id = c.id)) LIMIT 1`,
      [id],
    )
    if (used) return { refused: refusals.person.fieldUsed }
    await tx.write("DELETE FROM field WHERE id = ?", [id])
    return ok
  }, 60_000)
}

export type Known = { readonly field: Field; readonly kept: string; readonly shown: string }

/** What is known of somebody by the school's fields, in the fields' order. */
export async function knownOf(db: Db, person: number): Promise<Known[]> {
  const rows = await db.rows<{ id: number; value: string }>(
    "SELECT field_id AS id, value FROM person_field WHERE person_id = ?",
    [person],
  )
  if (!rows.length) return []
  const kept = new Map(rows.map((r) => [r.id, r.value]))
  return (await listFields(db)).flatMap((field): Known[] => {
    const value = kept.get(field.id)
    const shown = value === undefined ? null : showValue(field, value)
    return shown === null ? [] : [{ field, kept: value!, shown }]
  })
}

/** The same of many, in words, by person and field. */
export async function knownOfAll(
  db: Db,
  fields: readonly Field[],
  people: readonly number[],
): Promise<ReadonlyMap<string, string>> {
  if (!fields.length || !people.length) return new Map()
  const rows = await db.rows<{ person: number; field: number; value: string }>(
    "SELECT person_id AS person, field_id AS field, value FROM person_field WHERE person_id IN (?)",
    [people],
  )
  const of = new Map(fields.map((f) => [f.id, f]))
  return new Map(
    rows.flatMap((r) => {
      const shown = showValue(of.get(r.field)!, r.value)
      return shown === null ? [] : [[`${r.person} ${r.field}`, shown] as const]
    }),
  )
}

/** What was typed into fields, by their number. */
export type FieldAnswers = Readonly<Record<string, string>>
export const fieldAnswers: v.GenericSchema<unknown, FieldAnswers> = v.record(v.string(), v.string())

/** Keeps what somebody answered; what doesn't fit a field as it is now is passed over. Each change is a happening. In a transaction. */
export async function keepAnswers(tx: Db, person: number, answers: FieldAnswers, at: number): Promise<void> {
  if (!Object.keys(answers).length) return
  const fields = await listFields(tx)
  const before = new Map(
    (
      await tx.rows<{ id: number; value: string }>(
        "SELECT field_id AS id, value FROM person_field WHERE person_id = ? FOR UPDATE",
        [person],
      )
    ).map((r) => [r.id, r.value]),
  )
  const changed = fields.flatMap((field) => {
    const typed = answers[field.id]
    const value = typed === undefined ? null : readValue(field, typed)
    return value && value !== before.get(field.id) ? [{ field, value }] : []
  })
  if (!changed.length) return
  await writeValues(
    tx,
    changed.map((c) => ({ person, field: c.field.id, value: c.value })),
    at,
  )
  await happen(
    tx,
    changed.map((c) => answeredBy(person, c.field, c.value, at)),
  )
}

/** That somebody answered, as it is heard: of a choice by its number, otherwise by the field's. */
export function answeredBy(person: number, field: Field, value: string, at: number) {
  const chosen = isChosen(field)
  return {
    kind: chosen ? ("picked" as const) : ("answered" as const),
    at,
    person,
    subject: chosen ? Number(value) : field.id,
    words: `“${showValue(field, value) ?? ""}” for “${field.label}”`.slice(0, 300),
  }
}

type Value = { readonly person: number; readonly field: number; readonly value: string }

/** Writes what is known of people, in place of what was. */
export async function writeValues(tx: Db, values: readonly Value[], at: number): Promise<void> {
  await tx.insert(
    "person_field",
    values.map((x) => rowOf(x, at)),
    "ON DUPLICATE KEY UPDATE value = VALUES(value), folded = VALUES(folded), number = VALUES(number), at = VALUES(at), import_id = NULL",
  )
}

/** The same for what a file says of people, where nothing is known yet. */
export async function writeImported(tx: Db, file: number, values: readonly Value[], at: number): Promise<void> {
  await tx.insert(
    "person_field",
    values.map((x) => ({ ...rowOf(x, at), import_id: file })),
    "ignore",
  )
}

const rowOf = (x: Value, at: number) => ({
  person_id: x.person,
  field_id: x.field,
  value: x.value,
  folded: foldValue(x.value),
  number: numberIn(x.value),
  at: new Date(at),
})

/** Sets one field of somebody by hand; empty: nothing is known any more. */
export async function setField(s: Context, person: number, id: number, typed: unknown): Promise<Saved | Refused> {
  const field = (await listFields(s.db)).find((f) => f.id === id)
  if (!field || typeof typed !== "string") return gone
  const value = readValue(field, typed)
  if (value === null) return { refused: refusals.person.fieldValue[field.kind], field: String(id) }
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    if (!(await tx.row("SELECT 1 FROM person WHERE id = ? FOR UPDATE", [person]))) return gone
    if (value) await keepAnswers(tx, person, { [id]: typed }, at)
    else await tx.write("DELETE FROM person_field WHERE person_id = ? AND field_id = ?", [person, id])
    return ok
  })
}
