// People from a file: it is kept, looked at, handed to the worker (take-in.ts), and can be taken back for a week.

import { createReadStream, createWriteStream } from "node:fs"
import { mkdir, open, stat, unlink } from "node:fs/promises"
import { join } from "node:path"
import type { Readable } from "node:stream"
import { pipeline } from "node:stream/promises"
import Papa from "papaparse"
import * as v from "valibot"
import type { Field } from "@/core/person/field"
import {
  columnsOf,
  encodingOf,
  guessRoles,
  type ImportPlan,
  mostColumns,
  planSchema,
  type Reading,
  type Role,
  readingOf,
  type Secret,
  secretIn,
} from "@/core/person/import"
import { refusals } from "@/core/words/refusals"
import type { Config } from "../config"
import { writeConsent } from "../consent"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { gone, ok, type Refused, refusal, type Saved } from "../saved"
import { listFields } from "./field"

/** The largest file, bytes. */
export const largestImport = 2 * 1024 ** 3

/** Lines looked after in one transaction: from a thousand on, MariaDB makes a table of an IN list. */
export const together = 900
const week = 7 * 86_400_000

const folder = (config: Config) => join(config.dataFolder, "imports")
export const fileOf = (config: Config, id: number) => join(folder(config), `${id}.csv`)
export const refusedFileOf = (config: Config, id: number) => join(folder(config), `${id}-refused.csv`)

export type ImportRow = {
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

const rowOf = (db: Db, id: number, lock = "") =>
  db.row<ImportRow>(`SELECT * FROM person_import WHERE id = ? ${lock}`, [id])

/** Keeps a file as it comes, and tells how it is written. */
export async function keepImport(s: Context, name: string, body: Readable): Promise<{ id: number } | Refused> {
  const now = new Date(await s.clock.now())
  const { id } = await s.db.insert("person_import", {
    name: name.slice(0, 200) || "people.csv",
    bytes: 0,
    reading: "{}",
    made_at: now,
  })
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
  if (size === 0) return drop(refusals.person.importEmpty)
  const text = decoded(start, encoding)
  const columns = columnsOf(text)
  if (columns > mostColumns) return drop(refusals.person.importWide(mostColumns))
  const reading = readingOf(text, encoding)
  await s.db.update("person_import", id, { bytes: size, reading: JSON.stringify(reading) })
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
export async function readImport(s: Context, id: number): Promise<ImportSeen | undefined> {
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
    bytes: r.bytes,
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
export async function startImport(s: Context, id: number, typed: unknown): Promise<Saved> {
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
export const refusedLines = (s: Context, id: number) =>
  stat(refusedFileOf(s.config, id)).then(
    () => createReadStream(refusedFileOf(s.config, id)),
    () => undefined,
  )

/** Takes an import back as a whole: who was made by it and has bought or been let into nothing since goes; tags it put on go. */
export async function takeBackImport(s: Context, id: number): Promise<Saved> {
  const now = await s.clock.now()
  const row = await rowOf(s.db, id)
  if (row?.state !== "done" || !row.done_at || row.done_at.getTime() <= now - week)
    return { refused: refusals.person.tooLate }
  await s.db.update("person_import", id, { state: "taken-back" })
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
  await writeConsent(s.db, "a.person_id IN (SELECT person_id FROM imported WHERE import_id = ? AND fresh = 1)", [id], {
    kind: "withdrawn",
    at: new Date(now),
    page: "the import was taken back",
  })
  await unlink(fileOf(s.config, id)).catch(() => {})
  return ok
}

/**
 * A file goes when its import can't be taken back any more: it holds what people would have erased, and what of it was never read.
 * One that was never taken in goes whole. A file without bytes is one that is gone.
 */
export async function sweepImports(s: Context): Promise<void> {
  const rows = await s.db.rows<{ id: number; state: ImportState }>(
    "SELECT id, state FROM person_import WHERE made_at < ? AND state <> 'running' AND (bytes > 0 OR state = 'uploaded') LIMIT 100",
    [new Date((await s.clock.now()) - week)],
  )
  for (const { id, state } of rows) {
    for (const file of [fileOf(s.config, id), refusedFileOf(s.config, id)]) await unlink(file).catch(() => {})
    if (state === "uploaded") await s.db.write("DELETE FROM person_import WHERE id = ?", [id])
    else await s.db.update("person_import", id, { bytes: 0 })
  }
}
