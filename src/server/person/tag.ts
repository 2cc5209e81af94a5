// Tags on people: put on and taken off, each time a happening.
import * as v from "valibot"
import { segmentSchema, withTag } from "@/core/person/segment/segment"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { gone, ok, refusal, type Saved } from "../saved"
import { countsBy } from "../tally"

export type Tagging = { readonly person: number; readonly tag: number; readonly at: number; readonly name: string }

/** Puts tags on people, at one instant: those that are new are one happening each. To be called inside a transaction. */
export async function putTagsOn(tx: Db, all: readonly Tagging[]): Promise<void> {
  const [first] = all
  if (!first) return
  const merged = await tx.rows<{ was: number; id: number; name: string }>(
    "SELECT t.id AS was, i.id, i.name FROM tag t JOIN tag i ON i.id = t.merged_into WHERE t.id IN (?)",
    [[...new Set(all.map((t) => t.tag))]],
  )
  const into = new Map(merged.map((m) => [m.was, m]))
  const meant = all.map((t) => ({
    person: t.person,
    tag: into.get(t.tag)?.id ?? t.tag,
    name: into.get(t.tag)?.name ?? t.name,
  }))
  const names = new Map(meant.map((t) => [t.tag, t.name]))
  const fresh = await tx.rows<{ person: number; tag: number }>(
    "INSERT IGNORE INTO person_tag (person_id, tag_id, at, joined_at) SELECT p.id, t.id, ?, p.joined_at FROM person p JOIN tag t ON t.id IN (?) WHERE p.id IN (?) AND (p.id, t.id) IN (?) RETURNING person_id AS person, tag_id AS tag",
    [
      new Date(first.at),
      [...names.keys()],
      [...new Set(meant.map((t) => t.person))],
      meant.map((t) => [t.person, t.tag]),
    ],
  )
  await happen(
    tx,
    fresh.map(({ person, tag }) => ({
      kind: "tagged" as const,
      at: first.at,
      person,
      subject: tag,
      words: names.get(tag)!,
    })),
  )
}

/** The tag that is meant by a number: one that was merged is the one it was merged into. */
async function meant(tx: Db, t: Tagging): Promise<{ id: number; name: string }> {
  const into = await tx.row<{ id: number; name: string }>(
    "SELECT i.id, i.name FROM tag t JOIN tag i ON i.id = t.merged_into WHERE t.id = ?",
    [t.tag],
  )
  return into ?? { id: t.tag, name: t.name }
}

/** To be called inside a transaction. */
export async function takeTagOff(tx: Db, t: Tagging): Promise<void> {
  const tag = await meant(tx, t)
  const off = await tx.write("DELETE FROM person_tag WHERE person_id = ? AND tag_id = ?", [t.person, tag.id])
  if (off.affected) await happen(tx, { kind: "untagged", at: t.at, person: t.person, subject: tag.id, words: tag.name })
}

export type TagListed = {
  readonly id: number
  readonly name: string
  readonly people: number
  /** Whether anything puts it on, asks for it, or is set off by it. */
  readonly used: boolean
}

/** By name; at most 500. */
export async function listTags(db: Db): Promise<TagListed[]> {
  const counts = await countsBy(db, "tagged")
  const tags = await db.rows<{ id: number; name: string; used: number }>(
    `SELECT t.id, t.name, EXISTS (SELECT 1 FROM reference r WHERE r.tag_id = t.id) OR EXISTS (SELECT 1 FROM effect e WHERE e.on_tag_id = t.id) AS used
     FROM tag t WHERE t.merged_into IS NULL ORDER BY t.name LIMIT 500`,
  )
  return tags.map((t) => ({ ...t, used: Boolean(t.used), people: counts.get(t.id) ?? 0 }))
}

/** Takes a tag off everybody, and away with every effect that puts it on or off in a draft. What is published stays. */
export async function removeTag(s: Context, tag: number): Promise<Saved> {
  return s.db.transaction(async (tx): Promise<Saved> => {
    await tx.write("DELETE e FROM effect e JOIN reference r ON r.effect_id = e.id WHERE r.tag_id = ?", [tag])
    // Rows that a foreign key deletes fire no trigger: the people are counted.
    await tx.write("DELETE FROM person_tag WHERE tag_id = ?", [tag])
    const done = await tx.write("DELETE FROM tag WHERE id = ?", [tag])
    return done.affected ? ok : gone
  }, 60_000)
}

const nameRule = v.pipe(
  v.string(),
  v.trim(),
  v.nonEmpty(refusals.value.empty),
  v.maxLength(60, refusals.value.longest(60)),
)

/** Gives a tag another name; one that another tag has is refused: the two can be merged. */
export async function renameTag(s: Context, tag: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(nameRule, typed)
  if (!read.success) return refusal(read.issues)
  return s.db.transaction(async (tx): Promise<Saved> => {
    const same = await tx.row("SELECT 1 FROM tag WHERE name = ? AND id <> ? FOR UPDATE", [read.output, tag])
    if (same) return { refused: refusals.person.tagThere, field: "name" }
    const done = await tx.write("UPDATE tag SET name = ? WHERE id = ? AND merged_into IS NULL", [read.output, tag])
    return done.affected ? ok : gone
  })
}

/**
 * Makes two tags one: whoever has the one has the other, and what puts it on, asks for it or hangs on it means the other from
 * now on, also in what is published. Nothing is set off by it.
 */
export async function mergeTags(s: Context, tag: number, into: number): Promise<Saved> {
  if (tag === into) return gone
  return s.db.transaction(async (tx): Promise<Saved> => {
    const both = await tx.rows("SELECT id FROM tag WHERE id IN (?) AND merged_into IS NULL FOR UPDATE", [[tag, into]])
    if (both.length < 2) return gone
    await tx.write(
      "INSERT IGNORE INTO person_tag (person_id, tag_id, at, joined_at) SELECT person_id, ?, at, joined_at FROM person_tag WHERE tag_id = ?",
      [into, tag],
    )
    await tx.write("DELETE FROM person_tag WHERE tag_id = ?", [tag])
    await tx.write(
      "UPDATE effect SET settings = JSON_REPLACE(settings, '$.tag', ?) WHERE JSON_VALUE(settings, '$.tag') = ?",
      [into, tag],
    )
    await tx.write("UPDATE effect SET on_tag_id = ? WHERE on_tag_id = ?", [into, tag])
    for (const table of ["segment", "notice"] as const) await renumber(tx, table, tag, into)
    await tx.write("UPDATE reference SET tag_id = ? WHERE tag_id = ?", [into, tag])
    await tx.write("UPDATE tag SET merged_into = ? WHERE merged_into = ?", [into, tag])
    await tx.write("UPDATE tag SET merged_into = ?, name = CONCAT('#', id) WHERE id = ?", [into, tag])
    return ok
  }, 60_000)
}

/** Questions that ask for a tag ask for the other. */
async function renumber(tx: Db, table: "segment" | "notice", tag: number, into: number): Promise<void> {
  const column = table === "segment" ? "question" : "segment"
  const rows = await tx.rows<{ id: number; question: string }>(
    `SELECT id, ${column} AS question FROM ${table} WHERE id IN (SELECT from_${table}_id FROM reference WHERE tag_id = ?) FOR UPDATE`,
    [tag],
  )
  for (const r of rows) {
    const question = withTag(v.parse(segmentSchema, JSON.parse(r.question)), tag, into)
    await tx.write(`UPDATE ${table} SET ${column} = ?, revision = revision + 1 WHERE id = ?`, [
      JSON.stringify(question),
      r.id,
    ])
  }
}
