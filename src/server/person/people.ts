// The people list, and one person's story.

import type { HappeningKind } from "@/core/happening"
import type { OrderState } from "@/core/ledger/order"
import type { Db } from "../db/pool"
import { originWords } from "../origin"
import { countOf } from "../tally"
import { foldSearch } from "./person"

export type PeopleQuery = {
  readonly search: string
  readonly tag: number | null
  readonly sort: "joined" | "name" | "email"
  readonly descending: boolean
  /** From 0. */
  readonly page: number
}

export const pageSize = 50
/** From this row on it is worth counting, to learn from which end a page is nearer. */
const farOut = 5_000

export type PersonRow = {
  readonly id: number
  readonly name: string
  readonly email: string
  readonly joined_at: Date
  readonly source: string
  readonly tags: string[]
  readonly suppressed: string | null
}

const sorts = { joined: "joined_at", name: "name", email: "email" } as const

/** One page of people. Ids are found in an index that has all that sorting and searching need; rows are read after. */
export async function listPeople(db: Db, q: PeopleQuery): Promise<PersonRow[]> {
  const column = sorts[q.sort]
  const { where, values } = conditions(q)
  // A page in the far half is read from the end, backwards: half the way at most.
  const offset = q.page * pageSize
  const total = offset > farOut ? await countPeople(db, q) : 0
  const backwards = offset > total / 2 && offset < total
  const shown = backwards ? Math.min(pageSize, total - offset) : pageSize
  const way = q.descending !== backwards ? "DESC" : "ASC"
  // By the day they joined, a tag's own index has the order; otherwise the order is person's, and the tag is looked up.
  const byTag = q.tag !== null && q.sort === "joined"
  const [from, order] = byTag
    ? ["person_tag t JOIN person p ON p.id = t.person_id", `t.joined_at ${way}, t.person_id ${way}`]
    : [
        `person p FORCE INDEX (by_${q.sort})${q.tag === null ? "" : " STRAIGHT_JOIN person_tag t ON t.person_id = p.id"}`,
        `p.${column} ${way}, p.id ${way}`,
      ]
  const ids = (
    await db.rows<{ id: number }>(`SELECT p.id FROM ${from} ${where} ORDER BY ${order} LIMIT ? OFFSET ?`, [
      ...values,
      shown,
      backwards ? total - offset - shown : offset,
    ])
  ).map((r) => r.id)
  if (backwards) ids.reverse()
  if (!ids.length) return []
  const rows = await db.rows<Omit<PersonRow, "tags"> & { tags: string | null }>(
    `SELECT p.id, p.name, p.email, p.joined_at, p.source, (SELECT a.suppressed FROM address a WHERE a.person_id = p.id ORDER BY a.id LIMIT 1) AS suppressed,
       (SELECT GROUP_CONCAT(g.name ORDER BY g.name SEPARATOR '\\n') FROM person_tag t JOIN tag g ON g.id = t.tag_id WHERE t.person_id = p.id) AS tags
     FROM person p WHERE p.id IN (?)`,
    [ids],
  )
  const by = new Map(rows.map((r) => [r.id, { ...r, tags: r.tags?.split("\n") ?? [] }]))
  return ids.flatMap((id) => by.get(id) ?? [])
}

/** How many people the list has, exactly. */
export async function countPeople(db: Db, q: Pick<PeopleQuery, "search" | "tag">): Promise<number> {
  if (!q.search.trim()) return q.tag === null ? countOf(db, "people") : countOf(db, "tagged", q.tag)
  const { where, values } = conditions(q)
  const from = q.tag === null ? "person p" : "person p JOIN person_tag t ON t.person_id = p.id"
  const row = await db.row<{ n: number }>(`SELECT COUNT(*) AS n FROM ${from} ${where}`, values)
  return row?.n ?? 0
}

function conditions(q: Pick<PeopleQuery, "search" | "tag">): { where: string; values: unknown[] } {
  const words = foldSearch(q.search).split(/\s+/).filter(Boolean).slice(0, 6)
  const parts = words.map(() => "p.searched LIKE ?")
  const values: unknown[] = words.map((w) => `%${w.replace(/[\\%_]/g, "\\$&")}%`)
  if (q.tag !== null) {
    parts.unshift("t.tag_id = ?")
    values.unshift(q.tag)
  }
  return { where: parts.length ? `WHERE ${parts.join(" AND ")}` : "", values }
}

export async function allTags(db: Db): Promise<{ id: number; name: string }[]> {
  return db.rows("SELECT id, name FROM tag WHERE merged_into IS NULL ORDER BY name LIMIT 500")
}

export type Story = {
  readonly person: {
    readonly id: number
    readonly name: string
    readonly email: string
    readonly zone: string
    readonly joined_at: Date
    readonly source: string
    /** The person who has taken this one in. */
    readonly unitedWith: number | null
  }
  readonly addresses: readonly {
    readonly email: string
    readonly confirmed_at: Date | null
    readonly suppressed: string | null
    readonly suppressed_at: Date | null
    readonly suppressed_why: string | null
  }[]
  readonly consents: readonly {
    readonly kind: "given" | "withdrawn"
    readonly at: Date
    readonly wording: string
    readonly ip: string
    readonly page: string
    readonly email: string
  }[]
  readonly tags: readonly string[]
  readonly sequences: readonly {
    readonly name: string
    readonly begun_at: Date
    readonly ended_at: Date | null
    readonly ended_why: string | null
    readonly sent: number
    readonly next: Date | null
  }[]
  readonly admissions: readonly {
    readonly id: number
    readonly title: string
    readonly from_at: Date
    readonly until_at: Date | null
    readonly origin: string
    readonly done: number
    readonly of: number
  }[]
  readonly orders: readonly {
    readonly id: number
    readonly first_id: number | null
    readonly made_at: Date
    readonly state: OrderState
    readonly bought: string | null
    readonly gross: number
    readonly currency: string
  }[]
  readonly facts: readonly {
    readonly id: number
    readonly at: Date
    readonly kind: HappeningKind
    readonly words: string | null
    readonly step: string | null
    readonly source: string | null
    readonly via: string | null
    /** The name of the account that did it; null: they themselves, or the school. */
    readonly who: string | null
  }[]
  readonly more: boolean
  /** The latest twenty e-mails to them. */
  readonly mails: readonly {
    readonly id: number
    readonly subject: string
    readonly state: string
    readonly at: Date
  }[]
  /** Whether sequences and broadcasts are held for them. */
  readonly held: boolean
}

const storyLength = 300

/** Everything that happened with one person, in order, the latest 300. */
export async function personStory(db: Db, id: number): Promise<Story | undefined> {
  const person = await db.row<Story["person"]>(
    "SELECT id, name, email, zone, joined_at, source, united_with AS unitedWith FROM person WHERE id = ?",
    [id],
  )
  if (!person) return undefined
  const addresses = await db.rows<Story["addresses"][number]>(
    "SELECT email, confirmed_at, suppressed, suppressed_at, suppressed_why FROM address WHERE person_id = ? ORDER BY id",
    [id],
  )
  const consents = await db.rows<Story["consents"][number]>(
    "SELECT c.kind, c.at, c.wording, c.ip, c.page, a.email FROM consent c JOIN address a ON a.id = c.address_id WHERE a.person_id = ? ORDER BY c.at, c.id",
    [id],
  )
  const tags = await db.rows<{ name: string }>(
    "SELECT g.name FROM person_tag t JOIN tag g ON g.id = t.tag_id WHERE t.person_id = ? ORDER BY g.name",
    [id],
  )
  const sequences = await db.rows<Story["sequences"][number]>(
    `SELECT q.name, n.begun_at, n.ended_at, n.ended_why, (SELECT COUNT(*) FROM mail m WHERE m.enrolment_id = n.id AND m.state = 'sent') AS sent,
       (SELECT MIN(m.due_at) FROM mail m WHERE m.enrolment_id = n.id AND m.state = 'due') AS next
     FROM enrolment n JOIN sequence q ON q.id = n.sequence_id WHERE n.person_id = ? ORDER BY n.begun_at`,
    [id],
  )
  const admissions = await db.rows<Story["admissions"][number]>(
    `SELECT d.id, COALESCE(CONCAT(c.title, COALESCE(CONCAT(': ', COALESCE(o.title, b.title)), '')), m.name) AS title, d.from_at, d.until_at,
       ${originWords} AS origin,
       (SELECT COUNT(*) FROM lesson_done x JOIN lesson l ON l.id = x.lesson_id WHERE x.person_id = d.person_id AND l.course_id = d.course_id) AS done,
       (SELECT COUNT(*) FROM lesson l WHERE l.course_id = d.course_id AND l.state = 'live') AS \`of\`
     FROM admission d LEFT JOIN course c ON c.id = d.course_id LEFT JOIN module o ON o.id = d.module_id LEFT JOIN lesson b ON b.id = d.lesson_id
     LEFT JOIN media m ON m.id = d.media_id WHERE d.person_id = ? ORDER BY d.from_at`,
    [id],
  )
  const orders = await db.rows<Story["orders"][number]>(
    `SELECT o.id, o.first_id, o.made_at, o.state, o.gross, o.currency,
       (SELECT GROUP_CONCAT(l.name ORDER BY l.id SEPARATOR ', ') FROM order_line l WHERE l.order_id = o.id) AS bought
     FROM orders o WHERE o.person_id = ? ORDER BY o.id DESC LIMIT 50`,
    [id],
  )
  const facts = await db.rows<Story["facts"][number]>(
    `SELECT x.id, x.at, x.kind, x.words, s.name AS step, x.source, x.via, a.name AS who FROM (
       SELECT * FROM fact WHERE person_id = ?
       UNION SELECT f.* FROM journey j JOIN fact f ON f.funnel_id = j.funnel_id AND f.visitor = j.visitor WHERE j.person_id = ?
     ) x LEFT JOIN step s ON s.id = x.step_id LEFT JOIN account a ON x.actor = CONCAT('account:', a.id) ORDER BY x.at DESC, x.id DESC LIMIT ?`,
    [id, id, storyLength + 1],
  )
  const mails = await db.rows<Story["mails"][number]>(
    "SELECT m.id, COALESCE(m.subject, x.subject, m.kind) AS subject, m.state, COALESCE(m.sent_at, m.due_at) AS at FROM mail m LEFT JOIN sequence_mail x ON x.id = m.sequence_mail_id WHERE m.person_id = ? ORDER BY m.id DESC LIMIT 20",
    [id],
  )
  const paused = await db.row("SELECT 1 FROM person WHERE id = ? AND mail_paused_at IS NOT NULL", [id])
  const more = facts.length > storyLength
  return {
    person,
    addresses,
    consents,
    tags: tags.map((t) => t.name),
    sequences: sequences.map((q) => ({ ...q, sent: q.sent })),
    admissions: admissions.map((a) => ({ ...a, done: a.done, of: a.of })),
    orders: orders.map((o) => ({ ...o, gross: o.gross })),
    facts: facts.slice(0, storyLength).reverse(),
    more,
    mails,
    held: paused !== undefined,
  }
}
