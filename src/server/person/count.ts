// How many people a question finds, and who of them joined last: exactly, or soon, which at a million is as much as a sample says.
import * as v from "valibot"
import { type Segment, segmentSchema } from "@/core/person/segment/segment"
import { proportion } from "@/core/proportion"
import type { Context } from "../context"
import { type Db, number } from "../db/pool"
import { type Refused, refusal } from "../saved"
import { whereOf } from "./where"

/** People who were taken into another person aren't people of their own any more. */
export const peopleText = "FROM person p WHERE p.united_with IS NULL AND"

/** The same twice where it is known exactly; otherwise with 95 % between the two, rounded outwards to two digits. */
export type CountedPeople = { readonly least: number; readonly most: number }

type Somebody = { readonly id: number; readonly name: string; readonly email: string; readonly joined: Date }

/** `first`: the twenty who joined last; null: not known yet. */
export type CountFound = { readonly count: CountedPeople; readonly first: readonly Somebody[] | null }

/** Ms that an exact answer may take where one is wanted soon; a sample takes fifty more. */
const soon = 250

export async function countIn(s: Context, segment: Segment): Promise<number> {
  return (await count(s, segment))!
}

/** Exactly, where that is known soon. */
export async function countSoon(s: Context, segment: Segment): Promise<CountedPeople> {
  const total = await count(s, segment, soon)
  if (total !== null) return exactly(total)
  return (await sampled(s, segment)) ?? exactly(await countIn(s, segment))
}

const exactly = (n: number): CountedPeople => ({ least: n, most: n })

async function count(s: Context, segment: Segment, within?: number): Promise<number | null> {
  const { sql, values } = await whereOf(s.db, segment, await s.clock.now())
  const rows = await lookThrough<{ n: string }>(s.db, `SELECT COUNT(*) AS n ${peopleText} ${sql}`, values, within)
  return rows && number(rows[0]?.n)
}

/** The twenty who joined last; null: that isn't known within so many ms. */
export async function firstOf(s: Context, segment: Segment, within?: number): Promise<Somebody[] | null> {
  const { sql, values } = await whereOf(s.db, segment, await s.clock.now())
  return lookThrough<Somebody>(
    s.db,
    `SELECT p.id, p.name, p.email, p.joined_at AS joined ${peopleText} ${sql} ORDER BY p.joined_at DESC, p.id DESC LIMIT 20`,
    values,
    within,
  )
}

/** Exactly, however long it takes. */
export async function peopleIn(s: Context, segment: Segment): Promise<CountFound> {
  const [total, first] = await Promise.all([countIn(s, segment), firstOf(s, segment)])
  return { count: exactly(total), first }
}

/** As much as is known soon. */
export async function peopleSoon(s: Context, segment: Segment): Promise<CountFound> {
  // One after the other: at a million people each wants all processors for itself.
  const first = await firstOf(s, segment, soon)
  return { count: await countSoon(s, segment), first }
}

/** The same for a question that is being built, as typed. */
export async function tryQuestion(
  s: Context,
  typed: unknown,
  how: "soon" | "exactly" = "soon",
): Promise<CountFound | Refused> {
  const read = v.safeParse(segmentSchema, typed)
  if (!read.success) return refusal(read.issues)
  return how === "soon" ? peopleSoon(s, read.output) : peopleIn(s, read.output)
}

/** Looking at people one after the other, by the index that fits best: sets of whole conditions aren't made. */
const oneByOne = "optimizer_switch = 'materialization=off,semijoin=off', in_predicate_conversion_threshold = 0"
/** How long that is tried at most, ms. */
const mostOneByOne = 600

/**
 * Asks in two ways at once, and takes the answer that comes first: looking at people one after the other, which is quick where few
 * come into question or the first few are enough, and is given up after a while; and making the set of each condition, which is
 * quick where one finds few, and never very slow. Both answer the same. Null: neither did within so many ms.
 */
async function lookThrough<T>(
  db: Db,
  sql: string,
  values: readonly unknown[],
  within = Number.POSITIVE_INFINITY,
): Promise<T[] | null> {
  const most = (ms: number) => (Number.isFinite(ms) ? `max_statement_time = ${ms / 1000}` : "max_statement_time = 0")
  const sets = db.rows<T>(`SET STATEMENT ${most(within)} FOR ${sql}`, [...values])
  const singly = db.rows<T>(`SET STATEMENT ${most(Math.min(within, mostOneByOne))}, ${oneByOne} FOR ${sql}`, [
    ...values,
  ])
  return Promise.any([singly, sets]).catch((all: AggregateError) => {
    const wrong = all.errors.find((e) => (e as { errno?: number }).errno !== tookTooLong)
    if (wrong) throw wrong
    return null
  })
}

/** ER_STATEMENT_TIMEOUT of MariaDB. */
const tookTooLong = 1969

/** How many people are looked at for a sample. */
const inSample = 4000

/**
 * What a sample of people says, spread evenly over all numbers that people have; where some are missing they count as looked at and
 * not found. Null where there are so few that all can be counted.
 */
export async function sampled(s: Context, segment: Segment): Promise<CountedPeople | null> {
  const last = (await s.db.row<{ id: number | null }>("SELECT MAX(id) AS id FROM person"))?.id ?? 0
  if (last < 10 * inSample) return null
  const each = last / inSample
  // One of each stretch, at a place that follows no pattern of theirs (Knuth's multiplicative hash); always the same ones, so that
  // the answer stands still.
  const ids = Array.from({ length: inSample }, (_, i) => {
    const somewhere = ((i * 2_654_435_761) % 2 ** 32) / 2 ** 32
    return Math.floor((i + somewhere) * each) + 1
  })
  const { sql, values } = await whereOf(s.db, segment, await s.clock.now())
  const row = await s.db.row<{ n: number }>(
    `SET STATEMENT ${oneByOne} FOR SELECT COUNT(*) AS n ${peopleText} p.id IN (?) AND ${sql}`,
    [ids, ...values],
  )
  const share = proportion(row?.n ?? 0, inSample)
  return { least: twoDigits(share.low * last, Math.floor), most: twoDigits(share.high * last, Math.ceil) }
}

/** Rounded to two digits. */
function twoDigits(n: number, round: (n: number) => number): number {
  const unit = 10 ** Math.max(0, Math.floor(Math.log10(Math.max(1, n))) - 1)
  return round(n / unit) * unit
}
