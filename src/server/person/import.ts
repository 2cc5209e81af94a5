// People from a file: it is kept, looked at, taken in by the worker a thousand lines at a time, and can be taken back for a week.
import { createHmac } from "node:crypto"
import { createReadStream, createWriteStream } from "node:fs"
import { mkdir, open, stat, truncate, unlink } from "node:fs/promises"
import { join } from "node:path"
import { Readable } from "node:stream"
import { pipeline } from "node:stream/promises"
import { TextDecoderStream } from "node:stream/web"
import Papa from "papaparse"
import * as v from "valibot"
import type { Field } from "@/core/person/field"
import {
  encodingOf,
  guessRoles,
  type ImportPlan,
  type Line,
  planSchema,
  type Reading,
  type Refusal,
  type Role,
  readingOf,
  readLine,
  type Secret,
  secretIn,
} from "@/core/person/import"
import { refusals } from "@/core/words/refusals"
import type { Config } from "../config"
import { csv } from "../csv"
import type { Db } from "../db/pool"
import type { Due } from "../due"
import { happen } from "../happen"
import { gone, ok, type Refused, refusal, type Saved } from "../saved"
import type { Surroundings } from "../surroundings"
import { listFields, writeImported } from "./field"
import { makePeople } from "./person"

/** The largest file, bytes. */
export const largestImport = 2 * 1024 ** 3

/** Lines looked after in one transaction: from a thousand on, MariaDB makes a table of an IN list. */
const together = 900
const week = 7 * 86_400_000

const folder = (config: Config) => join(config.dataFolder, "imports")
const fileOf = (config: Config, id: number) => join(folder(config), `${id}.csv`)
const refusedFileOf = (config: Config, id: number) => join(folder(config), `${id}-refused.csv`)

type Row = {
  readonly id: number
  readonly name: string
  readonly state: ImportState
  readonly bytes: number
  readonly reading: string
  readonly plan: string | null
  readonly lines_done: number
  readonly fresh: number
  readonly known: number
  readonly refused: number
  readonly refused_bytes: number
  readonly trouble: string | null
  readonly made_at: Date
  readonly done_at: Date | null
}
export type ImportState = "uploaded" | "running" | "done" | "stopped" | "taken-back"

const rowOf = (db: Db, id: number, lock = "") => db.row<Row>(`SELECT * FROM person_import WHERE id = ? ${lock}`, [id])

/** Keeps a file as it comes, and tells how it is written. */
export async function keepImport(s: Surroundings, name: string, body: Readable): Promise<{ id: number } | Refused> {
  const now = new Date(await s.clock.now())
  const { id } = await s.db.write("INSERT INTO person_import (name, bytes, reading, made_at) VALUES (?, 0, '{}', ?)", [
    name.slice(0, 200) || "people.csv",
    now,
  ])
  await mkdir(folder(s.config), { recursive: true, mode: 0o700 })
  const file = fileOf(s.config, id)
  let size = 0
  const drop = async (refused: string): Promise<Refused> => {
    await unlink(file).catch(() => {})
    await s.db.write("DELETE FROM person_import WHERE id = ?", [id])
    return { refused }
  }
  try {
    await pipeline(
      body,
      async function* (chunks: AsyncIterable<Buffer>) {
        for await (const chunk of chunks) {
          size += chunk.length
          if (size > largestImport) throw new TooLarge()
          yield chunk
        }
      },
      createWriteStream(file, { mode: 0o600 }),
    )
  } catch (error) {
    return drop(error instanceof TooLarge ? refusals.person.importTooLarge : refusals.person.importCut)
  }
  const start = await beginningOf(file)
  const encoding = encodingOf(start)
  const reading = readingOf(decoded(start, encoding), encoding)
  if (size === 0) return drop(refusals.person.importEmpty)
  await s.db.write("UPDATE person_import SET bytes = ?, reading = ? WHERE id = ?", [size, JSON.stringify(reading), id])
  return { id }
}

class TooLarge extends Error {}

const decoded = (bytes: Uint8Array, encoding: Reading["encoding"]) => new TextDecoder(encoding).decode(bytes)

async function beginningOf(file: string): Promise<Uint8Array> {
  const handle = await open(file)
  try {
    const { buffer, bytesRead } = await handle.read(Buffer.alloc(256 * 1024), 0, 256 * 1024, 0)
    return buffer.subarray(0, bytesRead)
  } finally {
    await handle.close()
  }
}

export type ImportSeen = {
  readonly id: number
  readonly name: string
  readonly state: ImportState
  readonly bytes: number
  readonly reading: Reading
  readonly head: readonly string[] | null
  /** The first lines, as cells. */
  readonly lines: readonly (readonly string[])[]
  readonly roles: readonly Role[]
  readonly fields: readonly Field[]
  /** Columns that hold what was somebody's secret, by their place. */
  readonly secrets: Readonly<Record<number, Secret>>
  readonly plan: ImportPlan | null
  readonly linesDone: number
  readonly fresh: number
  readonly known: number
  readonly refused: number
  readonly trouble: string | null
  readonly done: Date | null
  readonly canTakeBack: boolean
}

/** An import as the studio shows it: its first lines, and what its columns seem to be. */
export async function readImport(s: Surroundings, id: number): Promise<ImportSeen | undefined> {
  const r = await rowOf(s.db, id)
  if (!r) return undefined
  const reading = JSON.parse(r.reading) as Reading
  const start = await beginningOf(fileOf(s.config, id)).catch(() => new Uint8Array())
  const { data } = Papa.parse<string[]>(decoded(start, reading.encoding).replace(/^\uFEFF/, ""), {
    delimiter: reading.delimiter,
    preview: 101,
    skipEmptyLines: "greedy",
  })
  const head = reading.head ? (data[0] ?? []) : null
  const lines = reading.head ? data.slice(1) : data
  const fields = await listFields(s.db)
  const plan = r.plan === null ? null : v.parse(planSchema, JSON.parse(r.plan))
  const roles = plan?.roles ?? guessRoles(head, lines, fields)
  const secrets = Object.fromEntries(
    roles.flatMap((_, i) => {
      const secret = secretIn(head?.[i] ?? "", lines.map((l) => l[i]?.trim() ?? "").filter(Boolean))
      return secret ? [[i, secret]] : []
    }),
  )
  const now = await s.clock.now()
  return {
    id,
    name: r.name,
    state: r.state,
    bytes: Number(r.bytes),
    reading,
    head,
    lines: lines.slice(0, 12).map((l) => l.map((c) => c.slice(0, 120))),
    roles,
    fields,
    secrets,
    plan,
    linesDone: r.lines_done,
    fresh: r.fresh,
    known: r.known,
    refused: r.refused,
    trouble: r.trouble,
    done: r.done_at,
    canTakeBack: r.state === "done" && r.done_at !== null && r.done_at.getTime() > now - week,
  }
}

/** The latest first; at most 50. */
export function listImports(
  db: Db,
): Promise<
  { id: number; name: string; state: ImportState; fresh: number; known: number; refused: number; made: Date }[]
> {
  return db.rows(
    "SELECT id, name, state, fresh, known, refused, made_at AS made FROM person_import ORDER BY id DESC LIMIT 50",
  )
}

/** Has a file taken in by its columns. A column that holds what was somebody's secret is never read. */
export async function startImport(s: Surroundings, id: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(planSchema, typed)
  if (!read.success) return refusal(read.issues)
  const seen = await readImport(s, id)
  if (!seen) return gone
  const roles = read.output.roles.map((r, i) => (seen.secrets[i] ? "skip" : r))
  if (!roles.includes("email")) return { refused: refusals.person.importSecret }
  const done = await s.db.write(
    "UPDATE person_import SET state = 'running', plan = ? WHERE id = ? AND state = 'uploaded'",
    [JSON.stringify({ ...read.output, roles }), id],
  )
  return done.affected ? ok : gone
}

/** Lines that were refused, as CSV with why; undefined where there are none. */
export const refusedLines = (s: Surroundings, id: number) =>
  stat(refusedFileOf(s.config, id)).then(
    () => createReadStream(refusedFileOf(s.config, id)),
    () => undefined,
  )

/** Takes an import back as a whole: who was made by it and has bought or been let into nothing since goes; tags it put on go. */
export async function takeBackImport(s: Surroundings, id: number): Promise<Saved> {
  const now = await s.clock.now()
  const row = await rowOf(s.db, id)
  if (row?.state !== "done" || !row.done_at || row.done_at.getTime() <= now - week)
    return { refused: refusals.person.tooLate }
  await s.db.write("UPDATE person_import SET state = 'taken-back' WHERE id = ?", [id])
  await s.db.write(
    "DELETE t FROM person_tag t JOIN imported_tag i ON i.person_id = t.person_id AND i.tag_id = t.tag_id WHERE i.import_id = ?",
    [id],
  )
  await s.db.write("DELETE FROM person_field WHERE import_id = ?", [id])
  for (;;) {
    const people = await s.db.rows<{ id: number }>(
      `SELECT i.person_id AS id FROM imported i WHERE i.import_id = ? AND i.fresh = 1
         AND NOT EXISTS (SELECT 1 FROM orders o WHERE o.person_id = i.person_id) AND NOT EXISTS (SELECT 1 FROM admission d WHERE d.person_id = i.person_id)
         AND NOT EXISTS (SELECT 1 FROM united u WHERE u.person_id = i.person_id OR u.other_id = i.person_id) LIMIT ?`,
      [id, together],
    )
    if (!people.length) break
    await s.db.write("DELETE FROM person WHERE id IN (?)", [people.map((p) => p.id)])
  }
  await s.db.write(
    "INSERT INTO consent (address_id, kind, at, page) SELECT a.id, 'withdrawn', ?, 'the import was taken back' FROM imported i JOIN address a ON a.person_id = i.person_id WHERE i.import_id = ? AND i.fresh = 1",
    [new Date(now), id],
  )
  await unlink(fileOf(s.config, id)).catch(() => {})
  return ok
}

/** How an address is remembered that was erased. */
export const erasedKey = (secret: string, canonical: string): Buffer =>
  createHmac("sha256", secret).update(`erased\n${canonical}`).digest()

const whyWords: Readonly<Record<Refusal, string>> = {
  "no-address": "no e-mail address",
  "not-an-address": "not an e-mail address",
  twice: "stands in the file before",
  erased: "was erased at their own wish",
  "too-long": "longer than anything we keep",
  "bad-answer": "something in it doesn’t fit its field",
}

/** Takes in what is running, each file by one worker. */
export const imports: Due = {
  name: "imports",
  async nextAt(s) {
    const row = await s.db.row(
      "SELECT 1 FROM person_import WHERE state = 'running' AND (claimed_until IS NULL OR claimed_until < ?) LIMIT 1",
      [new Date()],
    )
    return row ? s.clock.now() : null
  },
  async run(s) {
    for (;;) {
      const row = await claim(s)
      if (!row) return
      await takeIn(s, row).catch(async (error: Error) => {
        s.log.error(error)
        await s.db.write("UPDATE person_import SET state = 'stopped', trouble = ? WHERE id = ?", [
          error.message.slice(0, 300),
          row.id,
        ])
      })
    }
  },
  async inHand(s) {
    return (await s.db.row("SELECT 1 FROM person_import WHERE state = 'running' LIMIT 1")) !== undefined
  },
}

async function claim(s: Surroundings): Promise<Row | undefined> {
  return s.db.transaction(async (tx) => {
    const row = await tx.row<Row>(
      "SELECT * FROM person_import WHERE state = 'running' AND (claimed_until IS NULL OR claimed_until < ?) ORDER BY id LIMIT 1 FOR UPDATE SKIP LOCKED",
      [new Date()],
    )
    if (row) await renew(tx, s, row.id)
    return row
  })
}

const renew = (tx: Db, s: Surroundings, id: number) =>
  tx.write("UPDATE person_import SET claimed_until = ? WHERE id = ?", [new Date(Date.now() + s.config.leaseMs), id])

async function takeIn(s: Surroundings, row: Row): Promise<void> {
  const reading = JSON.parse(row.reading) as Reading
  const plan = v.parse(planSchema, JSON.parse(row.plan ?? "{}"))
  const refusedFile = refusedFileOf(s.config, row.id)
  // What was written after the last sure line is written anew.
  if (row.refused_bytes > 0) await truncate(refusedFile, row.refused_bytes)
  else await unlink(refusedFile).catch(() => {})
  const tags = await tagIds(s.db, plan.tags)
  const fields = (await listFields(s.db)).filter((f) => plan.roles.includes(`field:${f.id}`))
  const zone = (await s.db.row<{ zone: string }>("SELECT zone FROM school WHERE id = 1"))?.zone ?? "UTC"
  let n = 0
  let batch: string[][] = []
  const next = () => {
    const lines = batch
    batch = []
    return batchIn(s, row.id, { plan, tags, fields, zone }, lines)
  }
  for await (const cells of cellsOf(fileOf(s.config, row.id), reading)) {
    // Lines that an earlier try has looked after.
    if (n++ < row.lines_done) continue
    batch.push(cells)
    if (batch.length >= together) await next()
  }
  if (batch.length) await next()
  await s.db.write("UPDATE person_import SET state = 'done', done_at = ?, claimed_until = NULL WHERE id = ?", [
    new Date(await s.clock.now()),
    row.id,
  ])
}

/** The lines of a file as cells, without its head. */
async function* cellsOf(file: string, r: Reading): AsyncGenerator<string[]> {
  const text = Readable.toWeb(createReadStream(file)).pipeThrough(new TextDecoderStream(r.encoding) as never)
  const rows = Readable.fromWeb(text as never).pipe(
    Papa.parse(Papa.NODE_STREAM_INPUT, { delimiter: r.delimiter, skipEmptyLines: "greedy" }),
  )
  let head = r.head
  for await (const cells of rows as AsyncIterable<string[]>) {
    if (head) head = false
    else yield cells
  }
}

async function tagIds(db: Db, names: readonly string[]): Promise<Map<string, number>> {
  if (!names.length) return new Map()
  await db.write("INSERT IGNORE INTO tag (name) VALUES ?", [names.map((n) => [n])])
  const rows = await db.rows<{ id: number; name: string }>(
    "SELECT COALESCE(merged_into, id) AS id, name FROM tag WHERE name IN (?)",
    [names],
  )
  const ids = new Map<string, number>()
  for (const name of names) {
    // Names are compared as the database compares them: large and small letters alike.
    const row = rows.find((r) => r.name === name) ?? rows.find((r) => r.name.toLowerCase() === name.toLowerCase())
    if (row) ids.set(name, row.id)
  }
  return ids
}

type Grant = {
  readonly plan: ImportPlan
  readonly tags: ReadonlyMap<string, number>
  readonly fields: readonly Field[]
  readonly zone: string
}

/** Some lines, all or none of them; how far the import is goes with them. */
async function batchIn(s: Surroundings, id: number, g: Grant, lines: readonly string[][]): Promise<void> {
  const at = await s.clock.now()
  const read = lines.map((cells) => ({ cells, line: readLine(cells, g.plan.roles, g.fields) }))
  const refused: { cells: string[]; why: Refusal }[] = []
  const fine = new Map<string, Line>()
  const hashes = await erasedAmong(
    s,
    read.flatMap(({ line }) => (typeof line === "object" ? line.address.canonical : [])),
  )
  for (const { cells, line } of read) {
    if (typeof line === "string") refused.push({ cells, why: line })
    else if (hashes.has(line.address.canonical)) refused.push({ cells, why: "erased" })
    else if (fine.has(line.address.canonical)) refused.push({ cells, why: "twice" })
    else fine.set(line.address.canonical, line)
  }
  const file = refusedFileOf(s.config, id)
  if (refused.length) {
    const out = await open(file, "a", 0o600)
    await out.write(csv(refused.map((r) => [whyWords[r.why], ...r.cells.map((c) => c.slice(0, 500))])))
    await out.sync()
    await out.close()
  }
  const bytes = refused.length ? (await stat(file)).size : null
  await s.db.transaction(async (tx) => {
    const came = await peopleIn(tx, id, [...fine.values()], g, at)
    await tx.write(
      "UPDATE person_import SET lines_done = lines_done + ?, fresh = fresh + ?, known = known + ?, refused = refused + ?, refused_bytes = COALESCE(?, refused_bytes), claimed_until = ? WHERE id = ?",
      [lines.length, came.fresh, came.known, refused.length, bytes, new Date(Date.now() + s.config.leaseMs), id],
    )
  }, 60_000)
}

async function erasedAmong(s: Surroundings, canonicals: readonly string[]): Promise<Set<string>> {
  if (!canonicals.length || !(await s.db.row("SELECT 1 FROM erased LIMIT 1"))) return new Set()
  const keys = new Map(canonicals.map((c) => [erasedKey(s.config.secret, c).toString("hex"), c]))
  const rows = await s.db.rows<{ key: Buffer }>(
    "SELECT canonical_hash AS `key` FROM erased WHERE canonical_hash IN (?)",
    [[...keys.keys()].map((k) => Buffer.from(k, "hex"))],
  )
  return new Set(rows.map((r) => keys.get(r.key.toString("hex"))!))
}

/** Makes those who aren't known; whoever is keeps what they have, and whether they are written to. */
async function peopleIn(
  tx: Db,
  id: number,
  lines: readonly Line[],
  g: Grant,
  at: number,
): Promise<{ fresh: number; known: number }> {
  if (!lines.length) return { fresh: 0, known: 0 }
  const rows = await tx.rows<{ canonical: string; person: number }>(
    "SELECT canonical, person_id AS person FROM address WHERE canonical IN (?)",
    [lines.map((l) => l.address.canonical)],
  )
  const known = new Map(rows.map((r) => [r.canonical, r.person]))
  const fresh = lines.filter((l) => !known.has(l.address.canonical))
  const made = await makePeople(
    tx,
    fresh.map((l) => ({
      ...l.address,
      name: l.name,
      zone: l.zone ?? g.zone,
      source: "import",
      confirmed: false,
    })),
    at,
  )
  const idOf = (l: Line) => known.get(l.address.canonical) ?? made.get(l.address.email)!
  const now = new Date(at)
  await tx.write("INSERT IGNORE INTO imported (import_id, person_id, fresh) VALUES ?", [
    lines.map((l) => [id, idOf(l), known.has(l.address.canonical) ? 0 : 1]),
  ])
  if (fresh.length) {
    if (g.plan.consent)
      await tx.write(
        "INSERT INTO consent (address_id, kind, at, wording, page) SELECT a.id, 'given', ?, ?, 'a file: stated by the school' FROM address a WHERE a.person_id IN (?)",
        [now, g.plan.consent, fresh.map(idOf)],
      )
    await happen(
      tx,
      fresh.map((l) => ({ kind: "imported" as const, at, person: idOf(l), subject: id })),
    )
  }
  // An answer in a file was given elsewhere: it sets nothing off. What is known already stays.
  await writeImported(
    tx,
    id,
    lines.flatMap((l) => l.fields.map((f) => ({ person: idOf(l), ...f }))),
    at,
  )
  await tagThem(tx, id, lines, idOf, g, at)
  return { fresh: fresh.length, known: known.size }
}

async function tagThem(
  tx: Db,
  id: number,
  lines: readonly Line[],
  idOf: (l: Line) => number,
  g: Grant,
  at: number,
): Promise<void> {
  const own = [...new Set(lines.flatMap((l) => l.tags))].filter((t) => !g.tags.has(t))
  const ids = new Map([...g.tags, ...(await tagIds(tx, own))])
  const pairs = lines.flatMap((l) =>
    [...new Set([...g.plan.tags, ...l.tags].flatMap((t) => ids.get(t) ?? []))].map((tag) => [idOf(l), tag] as const),
  )
  if (!pairs.length) return
  const had = await tx.rows<{ person: number; tag: number }>(
    "SELECT person_id AS person, tag_id AS tag FROM person_tag WHERE person_id IN (?)",
    [[...new Set(pairs.map(([p]) => p))]],
  )
  const before = new Set(had.map((h) => `${h.person} ${h.tag}`))
  const put = pairs.filter(([p, t]) => !before.has(`${p} ${t}`))
  if (!put.length) return
  await tx.write(
    `INSERT IGNORE INTO person_tag (person_id, tag_id, at, joined_at) SELECT p.id, x.tag, ?, p.joined_at FROM (${put.map(() => "SELECT ? AS person, ? AS tag").join(" UNION ALL ")}) x JOIN person p ON p.id = x.person`,
    [new Date(at), ...put.flat()],
  )
  await tx.write("INSERT IGNORE INTO imported_tag (import_id, person_id, tag_id) VALUES ?", [
    put.map(([p, t]) => [id, p, t]),
  ])
  const names = new Map([...ids].map(([name, tag]) => [tag, name]))
  // A tag that is put on sets off what hangs on it, as anywhere.
  for (const tag of new Set(put.map(([, t]) => t)))
    await happen(
      tx,
      put
        .filter(([, t]) => t === tag)
        .map(([person]) => ({ kind: "tagged" as const, at, person, subject: tag, words: names.get(tag) ?? "" })),
    )
}
