// Letting people in by hand, one or many, and by invitation; and taking it back.
import * as v from "valibot"
import { instantOf } from "@/core/course/opens"
import { parseAddress } from "@/core/person/address"
import { connectionOf } from "@/core/person/connection"
import { type PastedPerson, readPeople } from "@/core/person/paste"
import { refusals } from "@/core/words/refusals"
import { mayTry } from "../attempt"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { origin } from "../origin"
import { makePerson } from "../person/person"
import { queueWayIn } from "../person/way-in"
import { type Made, type Refused, refusal, type Saved } from "../saved"
import { sign, verifyId } from "../sign"
import type { Surroundings } from "../surroundings"
import { admit } from "./admission"

/** Where somebody came from whom the school let in. */
const madeHere = "let in by the school"

/** The most lines that are taken at once. */
const most = 2_000

const id = v.pipe(v.number(), v.integer(), v.minValue(1))
const day = v.nullable(v.pipe(v.string(), v.isoDate(refusals.course.date)))
const letInInput = v.object({
  course: id,
  module: v.nullable(id),
  people: v.pipe(v.string(), v.trim(), v.nonEmpty(refusals.course.nobody), v.maxLength(400_000)),
  /** The last day, in the school's zone; null: without an end. */
  until: day,
  /** Whether they are told by e-mail. */
  tells: v.boolean(),
  /** What they agreed to, where whoever lets them in says that they want to be written to; empty: nothing is said. */
  consent: v.optional(v.pipe(v.string(), v.trim(), v.maxLength(500, refusals.value.longest(500))), ""),
  /** What is let in together, piece by piece, and can be taken back together. */
  batch: v.optional(v.pipe(v.string(), v.regex(/^[0-9a-f]{12}$/))),
})

/** What became of one line: let in, made as a new person and let in, had it already, the second of the same, or unreadable. */
export type LetInResult = {
  readonly typed: string
  readonly came: "let-in" | "new" | "had" | "twice" | "unreadable"
  readonly person: number | null
}

/** Lets people in by their addresses, all in one transaction; each line is answered. */
export async function letPeopleIn(s: Surroundings, input: unknown): Promise<{ results: LetInResult[] } | Refused> {
  const read = v.safeParse(letInInput, input)
  if (!read.success) return refusal(read.issues)
  const asked = read.output
  const people = readPeople(asked.people)
  if (people.length > most) return { refused: refusals.course.tooManyPeople, field: "people" }
  const now = await s.clock.now()
  return s.db.transaction(async (tx) => {
    const course = await courseOf(tx, asked.course, asked.module)
    if (!course) return { refused: refusals.gone.course }
    const until = asked.until === null ? null : await endOfDay(tx, asked.until)
    if (until !== null && until <= now) return { refused: refusals.value.endOver, field: "until" }
    const from = origin.hand(asked.batch)
    const seen = new Set<string>()
    const results: LetInResult[] = []
    for (const p of people) {
      const { address, typed } = p
      if (!address) results.push({ typed, came: "unreadable", person: null })
      else if (seen.has(address.canonical)) results.push({ typed, came: "twice", person: null })
      else {
        seen.add(address.canonical)
        const grant = { ...course, until, at: now, origin: from, tells: asked.tells, consent: asked.consent }
        results.push({ typed, ...(await letIn(tx, { ...p, address }, grant)) })
      }
    }
    return { results }
  })
}

type CourseToOpen = {
  readonly id: number
  readonly slug: string
  readonly title: string
  readonly module: number | null
}

async function courseOf(db: Db, course: number, module: number | null): Promise<CourseToOpen | undefined> {
  return db.row<CourseToOpen>(
    `SELECT c.id, c.slug, IF(m.id IS NULL, c.title, CONCAT(c.title, ': ', m.title)) AS title, m.id AS module
     FROM course c LEFT JOIN module m ON m.course_id = c.id AND m.id = ? AND m.removed_at IS NULL WHERE c.id = ? AND (? IS NULL OR m.id IS NOT NULL)`,
    [module, course, module],
  )
}

async function endOfDay(db: Db, date: string): Promise<number> {
  const school = await db.row<{ zone: string }>("SELECT zone FROM school WHERE id = 1")
  const after = new Date(Date.parse(date) + 86_400_000).toISOString().slice(0, 10)
  return instantOf(after, "00:00", school?.zone ?? "UTC")
}

type Grant = CourseToOpen & {
  readonly until: number | null
  readonly at: number
  readonly origin: string
  readonly tells: boolean
  readonly consent: string
}

/** Lets one in. Who has as much for as long already keeps what they have. */
async function letIn(
  tx: Db,
  p: PastedPerson & { readonly address: NonNullable<PastedPerson["address"]> },
  g: Grant,
): Promise<{ came: "let-in" | "new" | "had"; person: number }> {
  const known = await tx.row<{ person: number; email: string; name: string }>(
    "SELECT a.person_id AS person, a.email, p.name FROM address a JOIN person p ON p.id = a.person_id WHERE a.canonical = ?",
    [p.address.canonical],
  )
  const school = await tx.row<{ zone: string }>("SELECT zone FROM school WHERE id = 1")
  const fresh = {
    ...p.address,
    name: p.name,
    zone: school?.zone ?? "UTC",
    source: madeHere,
    confirmed: false,
  }
  const who = known ?? { person: (await makePerson(tx, fresh, g.at)).person, email: p.address.email, name: p.name }
  const had = await tx.row(
    "SELECT 1 FROM admission WHERE person_id = ? AND course_id = ? AND (module_id IS NULL OR module_id = ?) AND from_at <= ? AND (until_at IS NULL OR (? IS NOT NULL AND until_at >= ?))",
    [who.person, g.id, g.module, new Date(g.at), g.until, g.until && new Date(g.until)],
  )
  if (had) return { came: "had", person: who.person }
  await admit(tx, {
    person: who.person,
    opens: { course: g.id, module: g.module },
    origin: g.origin,
    at: g.at,
    until: g.until,
    title: g.title,
  })
  if (g.consent) await noteConsent(tx, p.address.canonical, g)
  if (g.tells) await queueWayIn(tx, { ...who, leadsTo: `/learn/${g.slug}`, at: g.at }, "let-in")
  return { came: known ? "let-in" : "new", person: who.person }
}

/** Consent as whoever let them in stated it; not for an address that has left the e-mails by itself. */
async function noteConsent(tx: Db, canonical: string, g: Grant): Promise<void> {
  await tx.write(
    "INSERT INTO consent (address_id, kind, at, wording, ip, page) SELECT id, 'given', ?, ?, '', 'stated by the school' FROM address WHERE canonical = ? AND suppressed IS NULL",
    [new Date(g.at), g.consent, canonical],
  )
}

export type Batch = { readonly batch: string; readonly n: number; readonly at: Date }

/** How long what was let in together can be taken back together, ms of business time. */
const takenBack = 7 * 86_400_000

/** What was let in together, several at once, in the last seven days and still runs; the latest first. */
export async function batchesLately(s: Surroundings, course: number): Promise<Batch[]> {
  const now = await s.clock.now()
  const rows = await s.db.rows<{ origin: string; n: string; at: Date }>(
    `SELECT origin, COUNT(*) AS n, MIN(from_at) AS at FROM admission WHERE course_id = ? AND origin LIKE 'hand:%' AND from_at > ? AND (until_at IS NULL OR until_at > ?)
     GROUP BY origin HAVING n > 1 ORDER BY at DESC LIMIT 20`,
    [course, new Date(now - takenBack), new Date(now)],
  )
  return rows.map((r) => ({ batch: r.origin.slice("hand:".length), n: Number(r.n), at: r.at }))
}

/**
 * Takes back what was let in together: the admissions end, and whoever was made by it and has nothing else here is forgotten.
 *
 * @returns how many admissions ended
 */
export async function takeBatchBack(
  s: Surroundings,
  course: number,
  batch: string,
): Promise<{ ended: number } | Refused> {
  const now = await s.clock.now()
  return s.db.transaction(async (tx) => {
    const rows = await tx.rows<{ id: number; person_id: number; title: string }>(
      `SELECT d.id, d.person_id, c.title FROM admission d JOIN course c ON c.id = d.course_id
       WHERE d.course_id = ? AND d.origin = ? AND d.from_at > ? AND (d.until_at IS NULL OR d.until_at > ?) FOR UPDATE`,
      [course, origin.hand(batch), new Date(now - takenBack), new Date(now)],
    )
    if (!rows.length) return { refused: refusals.gone.admission }
    await tx.write("UPDATE admission SET until_at = ? WHERE id IN (?)", [new Date(now), rows.map((r) => r.id)])
    await happen(
      tx,
      rows.map((r) => ({
        kind: "access-ended" as const,
        at: now,
        person: r.person_id,
        subject: course,
        words: `“${r.title}”`,
      })),
    )
    await tx.write(
      `DELETE p FROM person p WHERE p.id IN (?) AND p.source = ?
       AND NOT EXISTS (SELECT 1 FROM admission d WHERE d.person_id = p.id AND d.origin <> ?)
       AND NOT EXISTS (SELECT 1 FROM orders o WHERE o.person_id = p.id) AND NOT EXISTS (SELECT 1 FROM session x WHERE x.person_id = p.id)
       AND NOT EXISTS (SELECT 1 FROM journey j WHERE j.person_id = p.id) AND NOT EXISTS (SELECT 1 FROM lesson_seen l WHERE l.person_id = p.id)`,
      [rows.map((r) => r.person_id), madeHere, origin.hand(batch)],
    )
    return { ended: rows.length }
  })
}

/** Ends one admission now. What opens the same by another stays. */
export async function endAdmission(s: Surroundings, admission: number): Promise<Saved> {
  const now = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const found = await tx.row<{ person_id: number; course_id: number | null; title: string }>(
      `SELECT d.person_id, d.course_id, COALESCE(c.title, m.name) AS title FROM admission d
       LEFT JOIN course c ON c.id = d.course_id LEFT JOIN media m ON m.id = d.media_id WHERE d.id = ? AND (d.until_at IS NULL OR d.until_at > ?) FOR UPDATE`,
      [admission, new Date(now)],
    )
    if (!found) return { refused: refusals.gone.admission }
    await tx.write("UPDATE admission SET until_at = ? WHERE id = ?", [new Date(now), admission])
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
export async function mailWayIn(s: Surroundings, person: number, course: number): Promise<Saved> {
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
  course: id,
  module: v.nullable(id),
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
export async function newInvitation(s: Surroundings, input: unknown): Promise<Made> {
  const read = v.safeParse(invitationInput, input)
  if (!read.success) return refusal(read.issues)
  const i = read.output
  const now = await s.clock.now()
  if (!(await courseOf(s.db, i.course, i.module))) return { refused: refusals.gone.course }
  const until = i.until === null ? null : await endOfDay(s.db, i.until)
  if (until !== null && until <= now) return { refused: refusals.value.endOver, field: "until" }
  const made = await s.db.write(
    "INSERT INTO invitation (course_id, module_id, name, most, until_at, days, made_at) VALUES (?, ?, ?, ?, ?, ?, ?)",
    [i.course, i.module, i.name, i.most, until && new Date(until), i.days, new Date(now)],
  )
  return { ok: true, id: made.id }
}

export async function endInvitation(s: Surroundings, invitation: number): Promise<Saved> {
  await s.db.write("UPDATE invitation SET ended_at = ? WHERE id = ? AND ended_at IS NULL", [
    new Date(await s.clock.now()),
    invitation,
  ])
  return { ok: true }
}

export const invitationLink = (config: Surroundings["config"], invitation: number) =>
  `${config.origin}/learn/invitation/${sign(config.secret, "invitation", String(invitation))}`

type InvitationRow = {
  readonly id: number
  readonly course_id: number
  readonly module_id: number | null
  readonly most: number | null
  readonly used: number
  readonly until_at: Date | null
  readonly days: number | null
  readonly ended_at: Date | null
}

const isOver = (i: InvitationRow, now: number) =>
  i.ended_at !== null || (i.until_at !== null && i.until_at.getTime() <= now) || (i.most !== null && i.used >= i.most)

/** What an invitation opens, for whoever follows its link; `over`: used up or ended. Undefined for a link that isn't ours. */
export async function readInvitation(
  s: Surroundings,
  key: string,
): Promise<{ readonly title: string; readonly slug: string; readonly over: boolean } | undefined> {
  const found = verifyId(s.config.secret, "invitation", key)
  const row = await s.db.row<InvitationRow>("SELECT * FROM invitation WHERE id = ?", [found ?? 0])
  const course = row && (await courseOf(s.db, row.course_id, row.module_id))
  return course && { title: course.title, slug: course.slug, over: isOver(row, await s.clock.now()) }
}

/**
 * Takes an invitation up for an address: its mailbox gets the way in, and nobody is signed in by typing it. The answer is the
 * same whether the address was known.
 */
export async function takeInvitation(
  s: Surroundings,
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
    const course = row && (await courseOf(tx, row.course_id, row.module_id))
    if (!course || isOver(row, now)) return { refused: refusals.gone.invitation }
    const name = typed.name.replace(/\s+/g, " ").trim().slice(0, 80)
    const until = row.days === null ? null : now + row.days * 86_400_000
    const done = await letIn(
      tx,
      { typed: typed.email, address, name },
      { ...course, until, at: now, origin: origin.invitation(row.id), tells: true, consent: "" },
    )
    if (done.came === "had") {
      const who = await tx.row<{ email: string; name: string }>("SELECT email, name FROM person WHERE id = ?", [
        done.person,
      ])
      if (who) await queueWayIn(tx, { person: done.person, ...who, leadsTo: `/learn/${course.slug}`, at: now })
    } else await tx.write("UPDATE invitation SET used = used + 1 WHERE id = ?", [row.id])
    return { ok: true }
  })
}
