// What is said in a room: by whoever has a seat, and by the host. Kept in the database, so that every web process shows the same.

import * as v from "valibot"
import { refusals } from "@/core/words/refusals"
import { mayTry } from "../attempt"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { queueMail } from "../queue-mail"
import { gone, type Made, ok, refusal, type Saved } from "../saved"
import type { Room } from "./room"

/** One thing that was said. */
export type SaidInRoom = {
  readonly id: number
  /** Whose it is, by their seat; null: the host's. */
  readonly registration: number | null
  /** The first name of who said it; empty where none is known. */
  readonly name: string
  readonly kind: "chat" | "question"
  readonly words: string
  readonly at: number
  readonly answered: boolean
  /** What was answered by e-mail; null: nothing. */
  readonly answer: string | null
}

const input = v.object({
  kind: v.picklist(["chat", "question"]),
  words: v.pipe(v.string(), v.trim(), v.nonEmpty(refusals.value.empty), v.maxLength(500, refusals.value.longest(500))),
})

/** Of one person in half a minute. */
const most = { most: 10, windowMs: 30_000 }

/** Somebody says something, while the room is open. */
export async function saySomething(s: Context, room: Room, typed: unknown): Promise<Saved> {
  const read = v.safeParse(input, typed)
  if (!read.success) return refusal(read.issues)
  if (!room.open || room.webinar.chat === "off") return gone
  if (!(await mayTry(s.db, `room:${room.registration}`, most))) return { refused: refusals.webinar.tooFast }
  await s.db.insert("room_message", {
    date_id: room.date,
    registration_id: room.registration,
    kind: read.output.kind,
    words: read.output.words,
    at: new Date(await s.clock.now()),
  })
  return ok
}

/** The host says something to everybody of a date. */
export async function sayAsHost(s: Context, date: number, words: unknown): Promise<Made> {
  const read = v.safeParse(input.entries.words, words)
  if (!read.success) return refusal(read.issues)
  if (!(await s.db.row("SELECT 1 FROM webinar_date WHERE id = ?", [date]))) return gone
  const made = await s.db.insert("room_message", {
    date_id: date,
    kind: "chat",
    words: read.output,
    at: new Date(await s.clock.now()),
  })
  return { ok: true, id: made.id }
}

/** A question is answered, or something is taken out of the room. */
export async function settleSaid(s: Context, id: number, how: "answered" | "hidden"): Promise<Saved> {
  const at = new Date(await s.clock.now())
  const done = await s.db.write(
    `UPDATE room_message SET ${how === "answered" ? "answered_at" : "hidden_at"} = COALESCE(${how === "answered" ? "answered_at" : "hidden_at"}, ?) WHERE id = ?`,
    [at, id],
  )
  return done.affected ? ok : gone
}

const answerInput = v.pipe(
  v.string(),
  v.trim(),
  v.nonEmpty(refusals.value.empty),
  v.maxLength(2000, refusals.value.longest(2000)),
)

/** A question is answered by e-mail, to whoever asked it and once. */
export async function answerByMail(s: Context, id: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(answerInput, typed)
  if (!read.success) return refusal(read.issues)
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx): Promise<Saved> => {
    const done = await tx.write(
      "UPDATE room_message SET answer = ?, answered_at = COALESCE(answered_at, ?) WHERE id = ? AND kind = 'question' AND answer IS NULL AND registration_id IS NOT NULL",
      [read.output, at, id],
    )
    if (!done.affected) return { refused: refusals.webinar.noSuchQuestion }
    const asker = await tx.row<Pick<Row<"person">, "id" | "email" | "name">>(
      "SELECT p.id, p.email, p.name FROM room_message m JOIN registration r ON r.id = m.registration_id JOIN person p ON p.id = r.person_id WHERE m.id = ?",
      [id],
    )
    if (asker)
      await queueMail(tx, {
        once: `answer:${id}`,
        kind: "answer",
        person_id: asker.id,
        to_email: asker.email,
        to_name: asker.name,
        room_message_id: id,
        due_at: at,
      })
    return ok
  })
}

/** What was said on a date after a message, in its order; at most 200, the latest of them. */
export async function saidSince(db: Db, date: number, after: number): Promise<SaidInRoom[]> {
  const rows = await db.rows<
    Pick<Row<"room_message">, "id" | "words" | "at" | "answer"> & {
      registration: number | null
      name: string | null
      kind: SaidInRoom["kind"]
      answered: number
    }
  >(
    `SELECT m.id, m.registration_id AS registration, p.name, m.kind, m.words, m.at, m.answered_at IS NOT NULL AS answered, m.answer
     FROM room_message m LEFT JOIN registration r ON r.id = m.registration_id LEFT JOIN person p ON p.id = r.person_id
     WHERE m.date_id = ? AND m.id > ? AND m.hidden_at IS NULL ORDER BY m.id DESC LIMIT 200`,
    [date, after],
  )
  return rows.reverse().map((r) => ({
    ...r,
    name: r.name ?? "",
    at: r.at.getTime(),
    answered: Boolean(r.answered),
  }))
}

/** Whether somebody in the room sees it: what the host says is for all, what others say as the webinar is set. */
export const isSeenBy = (m: Pick<SaidInRoom, "registration">, room: Pick<Room, "registration" | "webinar">): boolean =>
  m.registration === null || m.registration === room.registration || room.webinar.chat === "all"
