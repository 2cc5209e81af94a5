// Segments as they are kept, and the people they find.
import * as v from "valibot"
import { everybody, refsOfSegment, type Segment, segmentSays, segmentSchema } from "@/core/person/segment/segment"
import { vcard } from "@/core/person/vcard"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import { csv } from "../csv"
import type { Db } from "../db/pool"
import { namesOf } from "../names"
import { writeReferences } from "../reference"
import { gone, type Made, ok, refusal, type Saved } from "../saved"
import { type Before, reconcile, type SavedShared, type Stored } from "../shared"
import { type CountedPeople, countSoon, peopleText } from "./count"
import { knownOfAll, listFields } from "./field"
import { readQuestion, savedWithin, whereOf } from "./where"

/** How many segments there may be. */
const atMost = 200

type SegmentRow = { readonly id: number; readonly name: string; readonly question: string; readonly revision: number }

export type SegmentInput = { readonly name: string; readonly question: Segment }

const valueOfRow = (r: SegmentRow): SegmentInput => ({ name: r.name, question: readQuestion(r.question) })

export async function isPersonIn(db: Db, segment: Segment, person: number, now: number): Promise<boolean> {
  const { sql, values } = await whereOf(db, segment, now)
  return (await db.row(`SELECT 1 ${peopleText} p.id = ? AND ${sql}`, [person, ...values])) !== undefined
}

/** Those of some people who are in a segment. */
export async function whoIsIn(
  db: Db,
  segment: Segment,
  of: readonly number[],
  now: number,
): Promise<ReadonlySet<number>> {
  if (!of.length) return new Set()
  const { sql, values } = await whereOf(db, segment, now)
  const rows = await db.rows<{ id: number }>(`SELECT p.id ${peopleText} p.id IN (?) AND ${sql}`, [of, ...values])
  return new Set(rows.map((r) => r.id))
}

export type SegmentListed = {
  readonly id: number
  readonly name: string
  /** In words, without "people who"; empty: everybody. */
  readonly says: string
  readonly count: CountedPeople
}

/** By name, each with how many it finds now. */
export async function listSegments(s: Context): Promise<SegmentListed[]> {
  const rows = await s.db.rows<SegmentRow>(
    "SELECT id, name, question, revision FROM segment ORDER BY name, id LIMIT ?",
    [atMost],
  )
  const values = rows.map((r) => ({ id: r.id, ...valueOfRow(r) }))
  const name = await namesOf(
    s.db,
    values.flatMap((v) => refsOfSegment(v.question)),
  )
  return Promise.all(
    values.map(async ({ id, name: called, question }) => ({
      id,
      name: called,
      says: segmentSays(question, name),
      count: await countSoon(s, question),
    })),
  )
}

export async function readSegment(db: Db, id: number): Promise<Stored<SegmentInput> | undefined> {
  const row = await db.row<SegmentRow>("SELECT id, name, question, revision FROM segment WHERE id = ?", [id])
  return row && { revision: row.revision, value: valueOfRow(row) }
}

const nameRule = v.pipe(
  v.string(),
  v.trim(),
  v.nonEmpty(refusals.value.empty),
  v.maxLength(120, refusals.value.longest(120)),
)

export async function newSegment(s: Context, typed: unknown): Promise<Made> {
  const read = v.safeParse(nameRule, typed)
  if (!read.success) return refusal(read.issues)
  const n = await s.db.row<{ n: number }>("SELECT COUNT(*) AS n FROM segment")
  if ((n?.n ?? 0) >= atMost) return { refused: refusals.person.manySegments }
  const made = await s.db.insert("segment", {
    name: read.output,
    question: JSON.stringify(everybody),
    made_at: new Date(await s.clock.now()),
  })
  return { ok: true, id: made.id }
}

const input = v.partial(v.object({ name: nameRule, question: segmentSchema }))

/** Saves a segment; what isn't given stays as it is. */
export async function saveSegment(
  s: Context,
  id: number,
  typed: unknown,
  before?: Before,
): Promise<SavedShared<SegmentInput>> {
  const read = v.safeParse(input, typed)
  if (!read.success) return refusal(read.issues)
  return s.db.transaction(async (tx): Promise<SavedShared<SegmentInput>> => {
    const row = await tx.row<SegmentRow>("SELECT id, name, question, revision FROM segment WHERE id = ? FOR UPDATE", [
      id,
    ])
    if (!row) return gone
    const was = { revision: row.revision, value: valueOfRow(row) }
    const done = reconcile({ ...was.value, ...read.output }, was, before)
    if ("clash" in done) return done
    if ((await savedWithin(tx, done.write.question)).has(id)) return { refused: refusals.person.segmentCircle }
    await tx.write("UPDATE segment SET name = ?, question = ?, revision = revision + 1 WHERE id = ?", [
      done.write.name,
      JSON.stringify(done.write.question),
      id,
    ])
    await writeReferences(
      tx,
      { segment: id },
      refsOfSegment(done.write.question).map((ref) => ({ from: { segment: id }, ref })),
    )
    return { revision: row.revision + 1, value: done.write }
  })
}

export async function removeSegment(s: Context, id: number): Promise<Saved> {
  if (await s.db.row("SELECT 1 FROM reference WHERE segment_id = ? LIMIT 1", [id]))
    return { refused: refusals.person.segmentUsed }
  const done = await s.db.write("DELETE FROM segment WHERE id = ?", [id])
  return done.affected ? ok : gone
}

type Exported = {
  readonly id: number
  readonly email: string
  readonly name: string
  readonly zone: string
  readonly joined: Date
  readonly source: string
  readonly tags: string | null
}

/** Everybody a segment finds, a thousand at a time; nobody where there is no such segment. */
async function* exported(s: Context, id: number): AsyncGenerator<readonly Exported[]> {
  const found = await readSegment(s.db, id)
  if (!found) return
  const { sql, values } = await whereOf(s.db, found.value.question, await s.clock.now())
  for (let from = 0; ; ) {
    const rows = await s.db.rows<Exported>(
      `SELECT p.id, p.email, p.name, p.zone, p.joined_at AS joined, p.source,
         (SELECT GROUP_CONCAT(g.name ORDER BY g.name SEPARATOR '; ') FROM person_tag t JOIN tag g ON g.id = t.tag_id WHERE t.person_id = p.id) AS tags
       ${peopleText} p.id > ? AND ${sql} ORDER BY p.id LIMIT 1000`,
      [from, ...values],
    )
    if (!rows.length) return
    from = rows.at(-1)!.id
    yield rows
  }
}

/** The same as CSV. */
export async function* exportSegment(s: Context, id: number): AsyncGenerator<string> {
  if (!(await readSegment(s.db, id))) return
  const fields = await listFields(s.db)
  yield csv([["email", "name", "time zone", "joined", "source", "tags", ...fields.map((f) => f.label)]])
  for await (const rows of exported(s, id)) {
    const known = await knownOfAll(
      s.db,
      fields,
      rows.map((r) => r.id),
    )
    yield csv(
      rows.map((r) => [
        r.email,
        r.name,
        r.zone,
        r.joined.toISOString(),
        r.source,
        r.tags ?? "",
        ...fields.map((f) => known.get(`${r.id} ${f.id}`) ?? ""),
      ]),
    )
  }
}

/** The same as cards of an address book (RFC 6350). */
export async function* exportCards(s: Context, id: number): AsyncGenerator<string> {
  const host = new URL(s.config.origin).hostname
  for await (const rows of exported(s, id))
    yield rows
      .map((r) =>
        vcard({
          uid: `${r.id}@${host}`,
          name: r.name,
          email: r.email,
          zone: r.zone,
          tags: r.tags?.split("; ") ?? [],
          changed: r.joined.getTime(),
        }),
      )
      .join("")
}
