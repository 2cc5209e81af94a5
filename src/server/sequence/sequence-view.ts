// Sequences as the studio lists them.
import * as v from "valibot"
import type { SequenceState } from "@/core/funnel/draft"
import { flowSchema } from "@/core/sequence/document"
import { allSteps } from "@/core/sequence/flow"
import { mailOf } from "@/core/sequence/step/list"
import type { Db } from "../db/pool"
import { countsBy } from "../tally"

export type SequenceListed = {
  readonly id: number
  readonly name: string
  readonly state: SequenceState
  readonly mails: number
  /** People who are on their way through it. */
  readonly running: number
}

/**
 * Sequences as they are chosen from, by name; one that shares its name is told apart by the funnel in which it begins, or by
 * its number.
 */
export async function sequenceNames(db: Db): Promise<{ readonly id: number; readonly name: string }[]> {
  const rows = await db.rows<{ id: number; name: string; alike: number; funnel: string | null }>(
    `SELECT q.id, q.name, (SELECT COUNT(*) FROM sequence o WHERE o.name = q.name) AS alike,
       (SELECT f.name FROM reference r JOIN effect e ON e.id = r.effect_id JOIN step t ON t.id = e.step_id JOIN funnel f ON f.id = t.funnel_id WHERE r.sequence_id = q.id LIMIT 1) AS funnel
     FROM sequence q ORDER BY q.name, q.id LIMIT 500`,
  )
  return rows.map((r) => ({
    id: r.id,
    name: r.alike > 1 ? `${r.name} (${r.funnel ?? `no. ${r.id}`})` : r.name,
  }))
}

/** By name; at most 200. */
export async function listSequences(db: Db): Promise<SequenceListed[]> {
  const rows = await db.rows<{ id: number; name: string; state: SequenceState; flow: string }>(
    "SELECT id, name, state, flow FROM sequence ORDER BY name, id LIMIT 200",
  )
  const running = await countsBy(db, "running")
  return rows.map(({ flow, ...q }) => ({
    ...q,
    mails: allSteps(v.parse(flowSchema, JSON.parse(flow)).steps).filter((s) => mailOf(s) !== null).length,
    running: running.get(q.id) ?? 0,
  }))
}

type Named = { readonly id: number; readonly name: string }

/** What a sequence's e-mails can lead to, and whom of the team it can tell. */
export type EditorChoices = {
  readonly lessons: readonly Named[]
  readonly pages: readonly Named[]
  readonly accounts: readonly Named[]
  readonly sequences: readonly Named[]
  readonly pictures: readonly (Named & { readonly url: string })[]
  /** What can be said of people and offers in personal words. */
  readonly fields: readonly Named[]
  readonly offers: readonly Named[]
  readonly webinars: readonly Named[]
  /** Offers that have a programme for affiliates. */
  readonly programmes: readonly Named[]
}

/** By name; at most 500 of each. */
export async function editorChoices(db: Db): Promise<EditorChoices> {
  return {
    lessons: await db.rows<Named>(
      "SELECT l.id, CONCAT(c.title, ': ', l.title) AS name FROM lesson l JOIN course c ON c.id = l.course_id WHERE l.state <> 'removed' ORDER BY c.title, l.position LIMIT 500",
    ),
    pages: await db.rows<Named>(
      "SELECT t.id, CONCAT(f.name, ': ', t.name) AS name FROM step t JOIN funnel f ON f.id = t.funnel_id ORDER BY f.name, t.position LIMIT 500",
    ),
    accounts: await db.rows<Named>("SELECT id, name FROM account ORDER BY name LIMIT 50"),
    sequences: await sequenceNames(db),
    pictures: await db.rows<Named & { url: string }>(
      "SELECT id, name, CONCAT('/media/', stored) AS url FROM media WHERE kind = 'picture' ORDER BY id DESC LIMIT 500",
    ),
    fields: await db.rows<Named>("SELECT id, label AS name FROM field ORDER BY id LIMIT 50"),
    offers: await db.rows<Named>(
      "SELECT id, public_name AS name FROM offer WHERE removed_at IS NULL ORDER BY public_name LIMIT 500",
    ),
    webinars: await db.rows<Named>("SELECT id, name FROM webinar ORDER BY name LIMIT 100"),
    programmes: await db.rows<Named>(
      "SELECT o.id, o.public_name AS name FROM offer o JOIN programme p ON p.offer_id = o.id ORDER BY o.public_name LIMIT 500",
    ),
  }
}

export type MailNumbers = { readonly sent: number; readonly opened: number; readonly clicked: number }

/** What came of each e-mail of these sequences so far, by its number. */
export async function mailNumbers(db: Db, sequences: readonly number[]): Promise<Record<number, MailNumbers>> {
  const rows = await db.rows<{ mail: number; sent: number; opened: number; clicked: number }>(
    `SELECT m.sequence_mail_id AS mail, COUNT(*) AS sent, COUNT(m.opened_at) AS opened, COUNT(m.clicked_at) AS clicked FROM mail m JOIN sequence_mail x ON x.id = m.sequence_mail_id
     WHERE x.sequence_id IN (?) AND m.state = 'sent' GROUP BY m.sequence_mail_id`,
    [[0, ...sequences]],
  )
  return Object.fromEntries(rows.map((r) => [r.mail, { sent: r.sent, opened: r.opened, clicked: r.clicked }]))
}
