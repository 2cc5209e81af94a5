// Two persons who turn out to be one ("I bought with another address"): all that is of the other becomes theirs, and can be given
// back within a week.
import { parseAddress } from "@/core/person/address"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import type { Refused, Saved } from "../saved"
import { searchedText } from "./person"
import { closeAccess } from "./session"

/** What is of a person, by table, and the key that tells its rows apart. What both have stays with each. */
const theirs = {
  address: "id",
  person_tag: "tag_id",
  person_field: "field_id",
  admission: "id",
  lesson_done: "lesson_id",
  lesson_seen: "lesson_id",
  quiz_try: "id",
  hand_in: "id",
  media: "id",
  survey_answer: "CONCAT(lesson_id, ':', block)",
  notice_seen: "notice_id",
  note: "lesson_id",
  comment: "id",
  certificate: "id",
  waiting: "course_id",
  way_in: "id",
  journey: "CONCAT(funnel_id, ':', HEX(visitor), ':', run)",
  fact: "id",
  enrolment: "id",
  mail: "id",
  orders: "id",
  plan: "id",
  device: "HEX(visitor)",
  unwanted: "what",
  affiliate: "id",
  mention: "id",
  affiliate_join: "affiliate_id",
} as const

type Table = keyof typeof theirs
type Moved = Partial<Record<Table, (string | number)[]>>

/** How long it can be taken back, ms of business time. */
const week = 7 * 86_400_000

export type FoundPerson = {
  readonly id: number
  readonly name: string
  readonly email: string
  readonly orders: number
}

/** Somebody else by an address of theirs; undefined for nobody, and for whoever was taken in already. */
export async function otherPerson(db: Db, person: number, typed: string): Promise<FoundPerson | Refused> {
  const address = parseAddress(typed)
  if (!address) return { refused: refusals.value.emailCheck }
  const row = await db.row<FoundPerson & { orders: string }>(
    `SELECT p.id, p.name, p.email, (SELECT COUNT(*) FROM orders o WHERE o.person_id = p.id) AS orders
     FROM address a JOIN person p ON p.id = a.person_id WHERE a.canonical = ? AND p.united_with IS NULL`,
    [address.canonical],
  )
  if (!row) return { refused: refusals.person.nobody }
  if (row.id === person) return { refused: refusals.person.same }
  return { ...row, orders: Number(row.orders) }
}

/**
 * Takes another person in: addresses, admissions, progress, orders, plans, stories. Whoever is signed in as either is signed
 * out; a sequence that both are in goes on for the one who stays.
 */
export async function unite(s: Context, person: number, other: number): Promise<Saved> {
  const at = await s.clock.now()
  return s.db.transaction((tx) => uniteWithin(tx, person, other, at))
}

/** The same, inside a transaction. Every way in to either of them falls shut. */
export async function uniteWithin(tx: Db, person: number, other: number, at: number): Promise<Saved> {
  if (person === other) return { refused: refusals.person.same }
  const both = await tx.rows<{ id: number; email: string; united_with: number | null }>(
    "SELECT id, email, united_with FROM person WHERE id IN (?) ORDER BY id FOR UPDATE",
    [[person, other]],
  )
  const gone = both.find((p) => p.id === other)
  if (both.length < 2 || both.some((p) => p.united_with !== null) || !gone) return { refused: refusals.gone.thing }
  await countLearnersAgain(tx, person, other, -1)
  await closeAccess(tx, person, at)
  await closeAccess(tx, other, at)
  const moved: Moved = {}
  for (const table of Object.keys(theirs) as Table[]) moved[table] = await move(tx, table, other, person)
  await endWhatBothHave(tx, other, at)
  await tx.update("person", other, { united_with: person, searched: "" })
  await tx.insert("united", { person_id: person, other_id: other, at: new Date(at), moved: JSON.stringify(moved) })
  await happen(tx, { kind: "united", at, person, subject: other, words: gone.email })
  return { ok: true }
}

/** Moves what can be moved; gives the keys of what was. */
async function move(tx: Db, table: Table, from: number, to: number): Promise<(string | number)[]> {
  const keys = async () =>
    (
      await tx.rows<{ k: string | number }>(
        `SELECT ${theirs[table]} AS k FROM ${table} WHERE person_id = ? FOR UPDATE`,
        [from],
      )
    ).map((r) => r.k)
  const before = await keys()
  if (!before.length) return []
  await tx.write(`UPDATE IGNORE ${table} SET person_id = ? WHERE person_id = ?`, [to, from])
  const left = new Set(await keys())
  return before.filter((k) => !left.has(k))
}

/** A sequence that both are in would write twice: the other's ends. */
async function endWhatBothHave(tx: Db, other: number, at: number): Promise<void> {
  const left = (
    await tx.rows<{ id: number }>("SELECT id FROM enrolment WHERE person_id = ? AND ended_at IS NULL", [other])
  ).map((r) => r.id)
  if (!left.length) return
  await tx.write("UPDATE enrolment SET ended_at = ?, ended_why = 'joined with another person' WHERE id IN (?)", [
    new Date(at),
    left,
  ])
  await tx.write("UPDATE mail SET state = 'cancelled' WHERE enrolment_id IN (?) AND state = 'due'", [left])
}

/** A course that both may learn counts one learner less, or again two. */
async function countLearnersAgain(tx: Db, one: number, two: number, n: 1 | -1): Promise<void> {
  await tx.write(
    `INSERT INTO tally_change (what, about, part, n, money) SELECT 'learners', a.course_id, '', ?, 0 FROM admission a
     WHERE a.person_id = ? AND a.course_id IS NOT NULL AND EXISTS (SELECT 1 FROM admission b WHERE b.person_id = ? AND b.course_id = a.course_id) GROUP BY a.course_id`,
    [n, one, two],
  )
}

export type UnitedWith = { readonly id: number; readonly email: string; readonly at: Date }

/** Whom a person was united with in the last seven days, the latest first. */
export async function unitedLately(s: Context, person: number): Promise<UnitedWith[]> {
  return s.db.rows<UnitedWith>(
    "SELECT u.id, p.email, u.at FROM united u JOIN person p ON p.id = u.other_id WHERE u.person_id = ? AND u.undone_at IS NULL AND u.at > ? ORDER BY u.id DESC",
    [person, new Date((await s.clock.now()) - week)],
  )
}

/** Gives back what was taken over, within a week; what came since stays where it came. */
export async function partPersons(s: Context, united: number): Promise<Saved> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const row = await tx.row<{ person_id: number; other_id: number; at: Date; moved: string; searched: string }>(
      "SELECT * FROM united WHERE id = ? AND undone_at IS NULL FOR UPDATE",
      [united],
    )
    if (!row) return { refused: refusals.gone.thing }
    if (row.at.getTime() < at - week) return { refused: refusals.person.tooLate }
    const moved = JSON.parse(row.moved) as Moved
    for (const [table, keys] of Object.entries(moved) as [Table, (string | number)[]][])
      if (keys.length)
        await tx.write(`UPDATE IGNORE ${table} SET person_id = ? WHERE person_id = ? AND ${theirs[table]} IN (?)`, [
          row.other_id,
          row.person_id,
          keys,
        ])
    await countLearnersAgain(tx, row.person_id, row.other_id, 1)
    const other = await tx.row<{ name: string; email: string }>("SELECT name, email FROM person WHERE id = ?", [
      row.other_id,
    ])
    await tx.update("person", row.other_id, {
      united_with: null,
      searched: searchedText(other?.name ?? "", other?.email ?? ""),
    })
    await tx.update("united", united, { undone_at: new Date(at) })
    await happen(tx, { kind: "parted", at, person: row.person_id, subject: row.other_id, words: other?.email ?? "" })
    return { ok: true }
  })
}
