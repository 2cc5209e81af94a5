// Broadcasts as they are written and kept.
import { isDeepStrictEqual } from "node:util"
import * as v from "valibot"
import { type Broadcast, broadcastSchema, newBroadcastDocument, refsOfBroadcast } from "@/core/mail/broadcast"
import { mailPage } from "@/core/mail/page"
import type { Page } from "@/core/page/document"
import { everybody, type Segment } from "@/core/person/segment/segment"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { mailColumns, readTypedMail, refsBesideBody } from "../mail/page"
import { cleanLetter } from "../page/rich-text"
import { type PageSaved, reconcilePage } from "../page/save"
import { keepVersion } from "../page/version"
import { writeReferences } from "../reference"
import { gone, type Made, ok, refusal, type Saved } from "../saved"
import { type Before, reconcile, type SavedShared } from "../shared"

export type BroadcastState = "draft" | "planned" | "paused" | "stopped" | "sent"

export type BroadcastKept = {
  readonly id: number
  readonly name: string
  readonly state: BroadcastState
  readonly document: Broadcast
  /** The page that its body is made of, as JSON; null: it is a text. */
  readonly page: string | null
  readonly revision: number
  /** The subject that won, from 0. */
  readonly winner: number | null
  readonly planned: Date | null
  /** When the first could get it. */
  readonly begins: Date | null
}

type Row = Omit<BroadcastKept, "document"> & { readonly document: string }
const columns = "id, name, state, document, page, revision, winner, planned_at AS planned, begins_at AS begins"

export async function readBroadcast(db: Db, id: number, lock = ""): Promise<BroadcastKept | undefined> {
  const row = await db.row<Row>(`SELECT ${columns} FROM broadcast WHERE id = ? ${lock}`, [id])
  return row && { ...row, document: v.parse(broadcastSchema, JSON.parse(row.document)) }
}

const nameRule = v.pipe(
  v.string(),
  v.trim(),
  v.nonEmpty(refusals.value.empty),
  v.maxLength(120, refusals.value.longest(120)),
)

/** Begins one as a draft: to everybody, or to those who are `to`. */
export async function newBroadcast(s: Context, typed: unknown, to: Segment = everybody): Promise<Made> {
  const read = v.safeParse(nameRule, typed)
  if (!read.success) return refusal(read.issues)
  const document = { ...newBroadcastDocument, to }
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx): Promise<Made> => {
    const made = await tx.insert("broadcast", { name: read.output, document: JSON.stringify(document), made_at: at })
    await refer(tx, made.id, document)
    return { ok: true, id: made.id }
  })
}

const input = v.object({ name: nameRule, document: broadcastSchema })
export type BroadcastInput = v.InferOutput<typeof input>

/** Saves what is written of a broadcast, as long as it isn't planned. */
export async function saveBroadcast(
  s: Context,
  id: number,
  typed: unknown,
  before?: Before,
): Promise<SavedShared<BroadcastInput>> {
  const read = v.safeParse(v.partial(input), typed)
  if (!read.success) return refusal(read.issues)
  return s.db.transaction(async (tx): Promise<SavedShared<BroadcastInput>> => {
    const b = await readBroadcast(tx, id, "FOR UPDATE")
    if (!b) return gone
    if (b.state !== "draft") return { refused: refusals.mail.planned }
    const was = { revision: b.revision, value: { name: b.name, document: b.document } }
    const merged = reconcile({ ...was.value, ...read.output }, was, before)
    if ("clash" in merged) return merged
    const { name } = merged.write
    const document = {
      ...merged.write.document,
      body: b.page === null ? cleanLetter(merged.write.document.body) : b.document.body,
    }
    await tx.write("UPDATE broadcast SET name = ?, document = ?, revision = revision + 1 WHERE id = ?", [
      name,
      JSON.stringify(document),
      id,
    ])
    await refer(tx, id, document, b.page)
    return { revision: b.revision + 1, value: { name, document } }
  })
}

const refer = (tx: Db, id: number, document: Broadcast, page: string | null = null) =>
  writeReferences(
    tx,
    { broadcast: id },
    [...refsOfBroadcast(document), ...refsBesideBody(page)].map((ref) => ({ from: { broadcast: id }, ref })),
  )

/** Saves the page of its text as typed, merged with what another window has made of it since `revision`. */
export async function saveBroadcastPage(
  s: Context,
  id: number,
  revision: number,
  typedPage: unknown,
  base?: unknown,
): Promise<PageSaved> {
  const typed = readTypedMail(typedPage, base)
  if ("refused" in typed) return typed
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<PageSaved> => {
    const b = await readBroadcast(tx, id, "FOR UPDATE")
    if (!b) return gone
    if (b.state !== "draft") return { refused: refusals.mail.planned }
    const stored = mailPage({ page: b.page, body: b.document.body })
    const both = reconcilePage(typed, revision, stored, b.revision)
    if (!("write" in both)) return both
    const next = isDeepStrictEqual(stored, both.write) ? b.revision : b.revision + 1
    await storePage(tx, b, both.write, next)
    await keepVersion(tx, { broadcast: id }, { before: stored, after: both.write, at, actor: s.actor })
    return both.write === typed.page ? { revision: next } : { revision: next, page: both.write }
  })
}

async function storePage(tx: Db, b: BroadcastKept, written: Page, revision: number): Promise<Broadcast> {
  const { page, body } = await mailColumns(tx, written)
  const document = { ...b.document, body }
  await tx.update("broadcast", b.id, { page, document: JSON.stringify(document), revision })
  await refer(tx, b.id, document, page)
  return document
}

/** Its document with the body made anew: what its page speaks of may have changed since it was written. */
export const madeAnew = async (tx: Db, b: BroadcastKept): Promise<Broadcast> =>
  b.page === null ? b.document : storePage(tx, b, mailPage({ page: b.page, body: "" }), b.revision)

/** Removes one that was never planned. */
export async function removeBroadcast(s: Context, id: number): Promise<Saved> {
  const done = await s.db.write("DELETE FROM broadcast WHERE id = ? AND state = 'draft'", [id])
  return done.affected ? ok : { refused: refusals.mail.planned }
}

export type BroadcastListed = {
  readonly id: number
  readonly name: string
  readonly state: BroadcastState
  readonly begins: Date | null
  readonly mails: number
  readonly sent: number
}

/** The latest first; at most 200. */
export async function listBroadcasts(db: Db): Promise<BroadcastListed[]> {
  const rows = await db.rows<Omit<BroadcastListed, "mails" | "sent"> & { mails: number; sent: number }>(
    `SELECT b.id, b.name, b.state, b.begins_at AS begins,
       (SELECT COUNT(*) FROM mail m WHERE m.broadcast_id = b.id) AS mails, (SELECT COUNT(*) FROM mail m WHERE m.broadcast_id = b.id AND m.state = 'sent') AS sent
     FROM broadcast b ORDER BY b.begins_at IS NOT NULL, b.begins_at DESC, b.id DESC LIMIT 200`,
  )
  return rows.map((r) => ({ ...r, mails: r.mails, sent: r.sent }))
}
