// Letting people in by hand, one or many, and by invitation; and taking it back.

import * as v from "valibot"
import { dayRule } from "@/core/calendar/days"
import { instantOf } from "@/core/course/opens"
import { parseAddress } from "@/core/person/address"
import { connectionOf } from "@/core/person/connection"
import { type PastedPerson, readPeople } from "@/core/person/paste"
import { refusals } from "@/core/words/refusals"
import { mayTry } from "../attempt"
import { writeConsent } from "../consent"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { origin } from "../origin"
import { makePeople } from "../person/person"
import { mayMailAddress, queueWayIn, queueWaysIn } from "../person/way-in"
import { type Made, type Refused, refusal, type Saved } from "../saved"
import { schoolRow } from "../school-view"
import { sign, verifyId } from "../sign"
import { admitAll, type Opened } from "./admission"

/** Where somebody came from whom the school let in. */
const madeHere = "let in by the school"

/** The most lines that are taken at once. */
const most = 100_000

/** How many are let in with the same few statements: from a thousand on, MariaDB makes a table of an IN list. */
const together = 900

const id = v.pipe(v.number(), v.integer(), v.minValue(1))
const day = v.nullable(dayRule(refusals.course.date))

/** What is opened: a course, one module of it, or a file. */
const opened = {
  course: v.optional(v.nullable(id), null),
  module: v.optional(v.nullable(id), null),
  media: v.optional(v.nullable(id), null),
}

const letInInput = v.object({
  ...opened,
  people: v.pipe(v.string(), v.trim(), v.nonEmpty(refusals.course.nobody), v.maxLength(20_000_000)),
  /** The last day, in the school's zone; null: without an end. */
  until: day,
  /** Whether they are told by e-mail. */
  tells: v.boolean(),
  /** What they agreed to, where whoever lets them in says that they want to be written to; empty: nothing is said. */
  consent: v.optional(v.pipe(v.string(), v.trim(), v.maxLength(500, refusals.value.longest(500))), ""),
  /** What is let in together can be taken back together. */
  batch: v.optional(v.pipe(v.string(), v.regex(/^[0-9a-f]{12}$/))),
})

/** What became of one line: let in, made as a new person and let in, had it already, the second of the same, or unreadable. */
export type LetInResult = {
  readonly typed: string
  readonly came: "let-in" | "new" | "had" | "twice" | "unreadable"
  readonly person: number | null
}

/**
 * Lets people in by their addresses, all in one transaction; each line is answered. `told` hears how far it is.
 */
export async function letPeopleIn(
  s: Context,
  input: unknown,
  told: (done: number, of: number) => void = () => {},
): Promise<{ results: LetInResult[] } | Refused> {
  const read = v.safeParse(letInInput, input)
  if (!read.success) return refusal(read.issues)
  const asked = read.output
  const people = readPeople(asked.people)
  if (people.length > most) return { refused: refusals.course.tooManyPeople, field: "people" }
  const now = await s.clock.now()
  const work = (tx: Db) => letAllIn(tx, asked, people, now, told)
  // Somebody who became known meanwhile, by a form or by the same list sent twice, is known the second time.
  return s.db.transaction(work, mostMs).catch((error) => {
    if ((error as { code?: string }).code !== "ER_DUP_ENTRY") throw error
    return s.db.transaction(work, mostMs)
  })
}

/** A list of the longest kind takes half a minute. */
const mostMs = 600_000

async function letAllIn(
  tx: Db,
  asked: v.InferOutput<typeof letInInput>,
  people: readonly PastedPerson[],
  now: number,
  told: (done: number, of: number) => void,
): Promise<{ results: LetInResult[] } | Refused> {
  const target = await targetOf(tx, asked)
  if (!target) return { refused: refusals.gone.course }
  const until = asked.until === null ? null : await endOfDay(tx, asked.until)
  if (until !== null && until <= now) return { refused: refusals.value.endOver, field: "until" }
  const grant = {
    ...target,
    until,
    at: now,
    origin: origin.hand(asked.batch),
    tells: asked.tells,
    consent: asked.consent,
  }
  const seen = new Set<string>()
  const results: LetInResult[] = []
  for (let from = 0; from < people.length; from += together) {
    const piece = people.slice(from, from + together).map((p) => {
      const twice = p.address !== null && seen.has(p.address.canonical)
      if (p.address) seen.add(p.address.canonical)
      return { p, came: p.address === null ? ("unreadable" as const) : twice ? ("twice" as const) : null }
    })
    const came = await letIn(
      tx,
      piece.flatMap(({ p, came }) => (came === null && p.address ? { ...p, address: p.address } : [])),
      grant,
    )
    let next = 0
    for (const { p, came: odd } of piece)
      results.push(odd ? { typed: p.typed, came: odd, person: null } : { typed: p.typed, ...came[next++]! })
    told(results.length, people.length)
  }
  return { results }
}

type Target = {
  readonly opens: Opened
  readonly title: string
  /** Where they are led to. */
  readonly leadsTo: string
}

/** What is to be opened; undefined where it isn't there. */
async function targetOf(
  db: Db,
  of: { readonly course: number | null; readonly module: number | null; readonly media: number | null },
): Promise<Target | undefined> {
  if (of.media !== null) {
    const file = await db.row<{ id: number; name: string }>(
      "SELECT id, name FROM media WHERE id = ? AND kind = 'file'",
      [of.media],
    )
    return file && { opens: { media: file.id }, title: file.name, leadsTo: `/learn/file/${file.id}` }
  }
  const course = await db.row<{ id: number; slug: string; title: string; module: number | null }>(
    `SELECT c.id, c.slug, IF(m.id IS NULL, c.title, CONCAT(c.title, ': ', m.title)) AS title, m.id AS module
     FROM course c LEFT JOIN module m ON m.course_id = c.id AND m.id = ? AND m.removed_at IS NULL WHERE c.id = ? AND (? IS NULL OR m.id IS NOT NULL)`,
    [of.module, of.course, of.module],
  )
  return (
    course && {
      opens: { course: course.id, module: course.module },
      title: course.title,
      leadsTo: `/learn/${course.slug}`,
    }
  )
}

async function endOfDay(db: Db, date: string): Promise<number> {
  const school = await schoolRow(db)
  const after = new Date(Date.parse(date) + 86_400_000).toISOString().slice(0, 10)
  return instantOf(after, "00:00", school?.zone ?? "UTC")
}

type Grant = Target & {
  readonly until: number | null
  readonly at: number
  readonly origin: string
  readonly tells: boolean
  readonly consent: string
}

type Readable = PastedPerson & { readonly address: NonNullable<PastedPerson["address"]> }
type Came = { readonly came: "let-in" | "new" | "had"; readonly person: number }

/** Lets several in, each another address, in their order. Who has as much for as long already keeps what they have. */
async function letIn(tx: Db, people: readonly Readable[], g: Grant): Promise<Came[]> {
  if (!people.length) return []
  type Known = { readonly canonical: string; readonly person: number; readonly email: string; readonly name: string }
  const rows = await tx.rows<Known>(
    "SELECT a.canonical, a.person_id AS person, a.email, p.name FROM address a JOIN person p ON p.id = a.person_id WHERE a.canonical IN (?)",
    [people.map((p) => p.address.canonical)],
  )
  const known = new Map(rows.map((r) => [r.canonical, r]))
  const school = await schoolRow(tx)
  const fresh = people.filter((p) => !known.has(p.address.canonical))
  const made = await makePeople(
    tx,
    fresh.map((p) => ({
      ...p.address,
      name: p.name,
      zone: school?.zone ?? "UTC",
      source: madeHere,
      confirmed: false,
    })),
    g.at,
  )
  const who = people.map((p): Known => {
    const { canonical, email } = p.address
    return known.get(canonical) ?? { canonical, person: made.get(email)!, email, name: p.name }
  })
  const had = await whoHas(tx, [...new Set(rows.map((r) => r.person))], g)
  const newcomers = [...new Set(who.map((w) => w.person))].filter((p) => !had.has(p))
  const admitted = await admitAll(tx, newcomers, g)
  const now = who.filter((w) => admitted.has(w.person))
  if (g.consent)
    await noteConsent(
      tx,
      now.map((w) => w.canonical),
      g,
    )
  // Two addresses of one person are written to once.
  const once = new Map(now.map((w) => [w.person, w]))
  if (g.tells)
    await queueWaysIn(
      tx,
      [...once.values()].map(({ person, email, name }) => ({ person, email, name, leadsTo: g.leadsTo, at: g.at })),
      "let-in",
    )
  return who.map(({ canonical, person }): Came => {
    if (!admitted.has(person)) return { came: "had", person }
    return { came: known.has(canonical) ? "let-in" : "new", person }
  })
}

/** Those of them who have as much already, for as long. */
async function whoHas(tx: Db, people: readonly number[], g: Grant): Promise<ReadonlySet<number>> {
  if (!people.length) return new Set()
  const [what, ids] =
    "media" in g.opens
      ? ["media_id = ?", [g.opens.media]]
      : ["course_id = ? AND (module_id IS NULL OR module_id = ?)", [g.opens.course, g.opens.module ?? null]]
  const rows = await tx.rows<{ person_id: number }>(
    `SELECT DISTINCT person_id FROM admission WHERE person_id IN (?) AND ${what} AND from_at <= ? AND (until_at IS NULL OR (? IS NOT NULL AND until_at >= ?))`,
    [people, ...ids, new Date(g.at), g.until, g.until && new Date(g.until)],
  )
  return new Set(rows.map((r) => r.person_id))
}

/** Where consent was stated by whoever let them in. */
const stated = "stated by the school"

/** Consent as whoever let them in stated it; not for an address that has left the e-mails by itself. */
async function noteConsent(tx: Db, canonicals: readonly string[], g: Grant): Promise<void> {
  if (!canonicals.length) return
  await writeConsent(tx, "a.canonical IN (?) AND a.suppressed IS NULL", [canonicals], {
    kind: "given",
    at: new Date(g.at),
    wording: g.consent,
    page: stated,
  })
}

export type Batch = { readonly batch: string; readonly n: number; readonly at: Date }

/** How long what was let in together can be taken back together, ms of business time. */
const takenBack = 7 * 86_400_000

/** What was let in together, several at once, in the last seven days and still runs; the latest first. */
export async function batchesLately(s: Context, of: Opened): Promise<Batch[]> {
  const now = await s.clock.now()
  const [what, which] = columnOf(of)
  const rows = await s.db.rows<{ origin: string; n: number; at: Date }>(
    `SELECT origin, COUNT(*) AS n, MIN(from_at) AS at FROM admission WHERE ${what} = ? AND origin LIKE 'hand:%' AND from_at > ? AND (until_at IS NULL OR until_at > ?)
     GROUP BY origin HAVING n > 1 ORDER BY at DESC LIMIT 20`,
    [which, new Date(now - takenBack), new Date(now)],
  )
  return rows.map((r) => ({ batch: r.origin.slice("hand:".length), n: r.n, at: r.at }))
}

const columnOf = (of: Opened): ["course_id" | "media_id", number] =>
  "media" in of ? ["media_id", of.media] : ["course_id", of.course]

/**
 * Takes back what was let in together: the admissions end, what was stated of consent is withdrawn, and whoever was made by it
 * and has nothing else here is forgotten.
 *
 * @returns how many admissions ended
 */
export async function takeBatchBack(s: Context, of: Opened, batch: string): Promise<{ ended: number } | Refused> {
  const now = await s.clock.now()
  const [what, which] = columnOf(of)
  return s.db.transaction(async (tx) => {
    const rows = await tx.rows<{ id: number; person_id: number; from_at: Date; title: string }>(
      `SELECT d.id, d.person_id, d.from_at, COALESCE(c.title, m.name) AS title FROM admission d LEFT JOIN course c ON c.id = d.course_id LEFT JOIN media m ON m.id = d.media_id
       WHERE d.${what} = ? AND d.origin = ? AND d.from_at > ? AND (d.until_at IS NULL OR d.until_at > ?) FOR UPDATE`,
      [which, origin.hand(batch), new Date(now - takenBack), new Date(now)],
    )
    if (!rows.length) return { refused: refusals.gone.admission }
    for (let from = 0; from < rows.length; from += together) {
      const piece = rows.slice(from, from + together)
      const people = piece.map((r) => r.person_id)
      await tx.write("UPDATE admission SET until_at = ? WHERE id IN (?)", [new Date(now), piece.map((r) => r.id)])
      await happen(
        tx,
        piece.map((r) => ({
          kind: "access-ended" as const,
          at: now,
          person: r.person_id,
          subject: what === "course_id" ? which : null,
          words: `“${r.title}”`,
        })),
      )
      await tx.write(
        `INSERT INTO consent (address_id, kind, at, wording, ip, page) SELECT a.id, 'withdrawn', ?, c.wording, '', 'taken back by the school' FROM consent c JOIN address a ON a.id = c.address_id
         WHERE a.person_id IN (?) AND c.kind = 'given' AND c.page = ? AND c.at = ?`,
        [new Date(now), people, stated, piece[0]!.from_at],
      )
      await tx.write(
        `DELETE p FROM person p WHERE p.id IN (?) AND p.source = ?
         AND NOT EXISTS (SELECT 1 FROM admission d WHERE d.person_id = p.id AND d.origin <> ?)
         AND NOT EXISTS (SELECT 1 FROM orders o WHERE o.person_id = p.id) AND NOT EXISTS (SELECT 1 FROM session x WHERE x.person_id = p.id)
         AND NOT EXISTS (SELECT 1 FROM journey j WHERE j.person_id = p.id) AND NOT EXISTS (SELECT 1 FROM lesson_seen l WHERE l.person_id = p.id)`,
        [people, madeHere, origin.hand(batch)],
      )
    }
    return { ended: rows.length }
  }, mostMs)
}

/** Ends one admission now. What opens the same by another stays. */
export async function endAdmission(s: Context, admission: number): Promise<Saved> {
  const now = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const found = await tx.row<{ person_id: number; course_id: number | null; title: string }>(
      `SELECT d.person_id, d.course_id, COALESCE(c.title, m.name) AS title FROM admission d
       LEFT JOIN course c ON c.id = d.course_id LEFT JOIN media m ON m.id = d.media_id WHERE d.id = ? AND (d.until_at IS NULL OR d.until_at > ?) FOR UPDATE`,
      [admission, new Date(now)],
    )
    if (!found) return { refused: refusals.gone.admission }
    await tx.update("admission", admission, { until_at: new Date(now) })
    await happen(tx, {
      kind: "access-ended",
      at: now,
      person: found.person_id,
      subject: found.course_id,
      words: `“${found.title}”`,
    })
    return { ok: true }
  })
}

/** Mails somebody the way into a course once more. */
export async function mailWayIn(s: Context, person: number, course: number): Promise<Saved> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const who = await tx.row<{ email: string; name: string; slug: string }>(
      "SELECT p.email, p.name, c.slug FROM person p JOIN course c ON c.id = ? WHERE p.id = ?",
      [course, person],
    )
    if (!who) return { refused: refusals.gone.thing }
    await queueWayIn(tx, { person, email: who.email, name: who.name, leadsTo: `/learn/${who.slug}`, at }, "let-in")
    return { ok: true }
  })
}

const invitationInput = v.object({
  ...opened,
  name: v.pipe(
    v.string(),
    v.trim(),
    v.nonEmpty(refusals.course.invitation),
    v.maxLength(120, refusals.value.longest(120)),
  ),
  most: v.nullable(v.pipe(v.number(), v.integer(refusals.value.wholeNumber), v.minValue(1, refusals.value.atLeastOne))),
  until: day,
  days: v.nullable(
    v.pipe(v.number(), v.integer(refusals.value.wholeDays), v.minValue(1, refusals.value.atLeastOne), v.maxValue(3650)),
  ),
})

/** Makes a link that lets whoever opens it into a course. */
export async function newInvitation(s: Context, input: unknown): Promise<Made> {
  const read = v.safeParse(invitationInput, input)
  if (!read.success) return refusal(read.issues)
  const i = read.output
  const now = await s.clock.now()
  if (!(await targetOf(s.db, i))) return { refused: refusals.gone.course }
  const until = i.until === null ? null : await endOfDay(s.db, i.until)
  if (until !== null && until <= now) return { refused: refusals.value.endOver, field: "until" }
  const made = await s.db.insert("invitation", {
    course_id: i.course,
    module_id: i.module,
    media_id: i.media,
    name: i.name,
    most: i.most,
    until_at: until === null ? null : new Date(until),
    days: i.days,
    made_at: new Date(now),
  })
  return { ok: true, id: made.id }
}

export async function endInvitation(s: Context, invitation: number): Promise<Saved> {
  await s.db.write("UPDATE invitation SET ended_at = ? WHERE id = ? AND ended_at IS NULL", [
    new Date(await s.clock.now()),
    invitation,
  ])
  return { ok: true }
}

export const invitationLink = (config: Context["config"], invitation: number) =>
  `${config.origin}/learn/invitation/${sign(config.secret, "invitation", String(invitation))}`

type InvitationRow = {
  readonly id: number
  readonly course_id: number | null
  readonly module_id: number | null
  readonly media_id: number | null
  readonly most: number | null
  readonly used: number
  readonly until_at: Date | null
  readonly days: number | null
  readonly ended_at: Date | null
}

const openedBy = (i: InvitationRow) => ({ course: i.course_id, module: i.module_id, media: i.media_id })

const isOver = (i: InvitationRow, now: number) =>
  i.ended_at !== null || (i.until_at !== null && i.until_at.getTime() <= now) || (i.most !== null && i.used >= i.most)

/** What an invitation opens, for whoever follows its link; `over`: used up or ended. Undefined for a link that isn't ours. */
export async function readInvitation(
  s: Context,
  key: string,
): Promise<{ readonly title: string; readonly over: boolean } | undefined> {
  const found = verifyId(s.config.secret, "invitation", key)
  const row = await s.db.row<InvitationRow>("SELECT * FROM invitation WHERE id = ?", [found ?? 0])
  const target = row && (await targetOf(s.db, openedBy(row)))
  return target && { title: target.title, over: isOver(row, await s.clock.now()) }
}

/**
 * Takes an invitation up for an address: its mailbox gets the way in, and nobody is signed in by typing it. The answer is the
 * same whether the address was known.
 */
export async function takeInvitation(
  s: Context,
  key: string,
  typed: { readonly email: string; readonly name: string },
  ip: string,
): Promise<Saved> {
  const address = parseAddress(typed.email)
  if (!address) return { refused: refusals.value.emailCheck, field: "email" }
  if (!(await mayTry(s.db, `invitation:${connectionOf(ip)}`, { most: 30, windowMs: 3_600_000 })))
    return { refused: refusals.account.tooManyHere }
  const now = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const row = await tx.row<InvitationRow>("SELECT * FROM invitation WHERE id = ? FOR UPDATE", [
      verifyId(s.config.secret, "invitation", key) ?? 0,
    ])
    const target = row && (await targetOf(tx, openedBy(row)))
    if (!target || isOver(row, now)) return { refused: refusals.gone.invitation }
    const name = typed.name.replace(/\s+/g, " ").trim().slice(0, 80)
    const until = row.days === null ? null : now + row.days * 86_400_000
    const [done] = await letIn(tx, [{ typed: typed.email, address, name }], {
      ...target,
      until,
      at: now,
      origin: origin.invitation(row.id),
      tells: true,
      consent: "",
    })
    const mayMail = await mayMailAddress(tx, address.canonical, "learn")
    if (done?.came === "had") {
      // As seldom as the sign-in page: whoever has the link can't fill somebody's mailbox with it.
      if (!mayMail) return { ok: true }
      const who = await tx.row<{ email: string; name: string }>("SELECT email, name FROM person WHERE id = ?", [
        done.person,
      ])
      if (who) await queueWayIn(tx, { person: done.person, ...who, leadsTo: target.leadsTo, at: now })
    } else await tx.write("UPDATE invitation SET used = used + 1 WHERE id = ?", [row.id])
    return { ok: true }
  })
}
