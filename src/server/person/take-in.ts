// People from a file, taken in by the worker: so many lines at a time, each time all or none of them.

import { createHmac } from "node:crypto"
import { createReadStream } from "node:fs"
import { open, stat, truncate, unlink } from "node:fs/promises"
import { Readable } from "node:stream"
import { TextDecoderStream } from "node:stream/web"
import Papa from "papaparse"
import * as v from "valibot"
import type { Field } from "@/core/person/field"
import {
  type ImportLine,
  type ImportPlan,
  type LineRefusal,
  planSchema,
  type Reading,
  readLine,
} from "@/core/person/import"
import { writeConsent } from "../consent"
import type { Context } from "../context"
import { csv } from "../csv"
import type { Db } from "../db/pool"
import type { Due } from "../due"
import { happen } from "../happen"
import { schoolZone } from "../school-view"
import { listFields, writeImported } from "./field"
import { fileOf, type ImportRow, refusedFileOf, together } from "./import"
import { makePeople } from "./person"

/** How an address is remembered that was erased. */
export const erasedKey = (secret: string, canonical: string): Buffer =>
  createHmac("sha256", secret).update(`erased\n${canonical}`).digest()

const whyWords: Readonly<Record<LineRefusal, string>> = {
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
  waits: (_, at) => [
    ["SELECT 1 FROM person_import WHERE state = 'running' AND (claimed_until IS NULL OR claimed_until < ?)", [at.real]],
  ],
  async run(s) {
    for (;;) {
      const row = await claim(s)
      if (!row) return
      await takeIn(s, row).catch(async (error: Error) => {
        s.log.error(error)
        await s.db.update("person_import", row.id, { state: "stopped", trouble: error.message.slice(0, 300) })
      })
    }
  },
  async inHand(s) {
    return (await s.db.row("SELECT 1 FROM person_import WHERE state = 'running' LIMIT 1")) !== undefined
  },
}

async function claim(s: Context): Promise<ImportRow | undefined> {
  return s.db.transaction(async (tx) => {
    const row = await tx.row<ImportRow>(
      "SELECT * FROM person_import WHERE state = 'running' AND (claimed_until IS NULL OR claimed_until < ?) ORDER BY id LIMIT 1 FOR UPDATE SKIP LOCKED",
      [new Date()],
    )
    if (row) await renew(tx, s, row.id)
    return row
  })
}

const renew = (tx: Db, s: Context, id: number) =>
  tx.update("person_import", id, { claimed_until: new Date(Date.now() + s.config.leaseMs) })

async function takeIn(s: Context, row: ImportRow): Promise<void> {
  const reading = JSON.parse(row.reading) as Reading
  const plan = v.parse(planSchema, JSON.parse(row.plan ?? "{}"))
  const refusedFile = refusedFileOf(s.config, row.id)
  // What was written after the last sure line is written anew.
  if (row.refused_bytes > 0) await truncate(refusedFile, row.refused_bytes)
  else await unlink(refusedFile).catch(() => {})
  const tags = await tagIds(s.db, plan.tags)
  const fields = (await listFields(s.db)).filter((f) => plan.roles.includes(`field:${f.id}`))
  const zone = await schoolZone(s.db)
  let n = 0
  let batch: string[][] = []
  let written = Promise.resolve()
  const next = async () => {
    const lines = batch
    batch = []
    // They are read while those before them are being written.
    const sorted = await sortOut(s, plan, fields, lines)
    await written
    written = writeIn(s, row.id, { plan, tags, zone }, sorted)
    // What went wrong is met where it is waited for.
    written.catch(() => {})
  }
  for await (const cells of cellsOf(fileOf(s.config, row.id), reading)) {
    // Lines that an earlier try has looked after.
    if (n++ < row.lines_done) continue
    batch.push(cells)
    if (batch.length >= together) await next()
  }
  if (batch.length) await next()
  await written
  await s.db.update("person_import", row.id, {
    state: "done",
    done_at: new Date(await s.clock.now()),
    claimed_until: null,
  })
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
  await db.insert(
    "tag",
    names.map((n) => ({ name: n })),
    "ignore",
  )
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
  readonly zone: string
}

/** Lines of a file, `n` of them, as they come in: the good ones, and the refused with why. */
type Sorted = {
  readonly n: number
  readonly fine: readonly ImportLine[]
  readonly refused: readonly { readonly cells: readonly string[]; readonly why: LineRefusal }[]
}

async function sortOut(
  s: Context,
  plan: ImportPlan,
  fields: readonly Field[],
  lines: readonly string[][],
): Promise<Sorted> {
  const read = lines.map((cells) => ({ cells, line: readLine(cells, plan.roles, fields) }))
  const refused: { cells: string[]; why: LineRefusal }[] = []
  const fine = new Map<string, ImportLine>()
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
  return { n: lines.length, fine: [...fine.values()], refused }
}

/** Some lines, all or none of them; how far the import is goes with them. */
async function writeIn(s: Context, id: number, g: Grant, { n, fine, refused }: Sorted): Promise<void> {
  const at = await s.clock.now()
  const file = refusedFileOf(s.config, id)
  if (refused.length) {
    const out = await open(file, "a", 0o600)
    await out.write(csv(refused.map((r) => [whyWords[r.why], ...r.cells.map((c) => c.slice(0, 500))])))
    await out.sync()
    await out.close()
  }
  const bytes = refused.length ? (await stat(file)).size : null
  await s.db.transaction(async (tx) => {
    const came = await peopleIn(tx, id, fine, g, at)
    await tx.write(
      "UPDATE person_import SET lines_done = lines_done + ?, fresh = fresh + ?, known = known + ?, refused = refused + ?, refused_bytes = COALESCE(?, refused_bytes), claimed_until = ? WHERE id = ?",
      [n, came.fresh, came.known, refused.length, bytes, new Date(Date.now() + s.config.leaseMs), id],
    )
  }, 60_000)
}

async function erasedAmong(s: Context, canonicals: readonly string[]): Promise<Set<string>> {
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
  lines: readonly ImportLine[],
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
  const idOf = (l: ImportLine) => known.get(l.address.canonical) ?? made.get(l.address.email)!
  const now = new Date(at)
  await tx.insert(
    "imported",
    lines.map((l) => ({ import_id: id, person_id: idOf(l), fresh: known.has(l.address.canonical) ? 0 : 1 })),
    "ignore",
  )
  if (fresh.length) {
    if (g.plan.consent)
      await writeConsent(tx, "a.person_id IN (?)", [fresh.map(idOf)], {
        kind: "given",
        at: now,
        wording: g.plan.consent,
        page: "a file: stated by the school",
      })
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
  lines: readonly ImportLine[],
  idOf: (l: ImportLine) => number,
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
  await tx.insert(
    "imported_tag",
    put.map(([p, t]) => ({ import_id: id, person_id: p, tag_id: t })),
    "ignore",
  )
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
