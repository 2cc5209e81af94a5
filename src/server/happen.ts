// What happens: one append-only row each, and a call to whoever listens.
import { createHash } from "node:crypto"
import type { HappeningKind } from "@/core/happening"
import { actorText } from "@/core/person/actor"
import type { Db } from "./db/pool"

/** What else is known of a happening. */
export type HappeningData = {
  /** The first orders, set apart by commas, by which alone this device was let in so far. */
  readonly orders?: string
  /** The offers it was about. */
  readonly offers?: readonly number[]
  /** The version of the conditions that were agreed to. */
  readonly version?: number
}

export type Happening = {
  readonly kind: HappeningKind
  readonly at: number
  /** Makes the second time harmless. */
  readonly once?: string
  readonly person?: number | null
  readonly funnel?: number | null
  readonly visitor?: Buffer | null
  /** The first-party id of the device on which it happened; heard, and not written down. */
  readonly device?: Buffer
  /** The how manieth journey of this visitor through the funnel; the first where not given. */
  readonly run?: number
  readonly step?: number | null
  readonly from?: number | null
  readonly outcome?: string | null
  readonly via?: "source" | "page" | "mail" | null
  readonly source?: string | null
  readonly begunAt?: Date | null
  readonly subject?: number | null
  readonly words?: string | null
  /** Minor units: what a journey had paid when it arrived, or what this was about. */
  readonly money?: number
  readonly data?: HappeningData
}

/** The most happenings that may set one another off in a row. */
const longestChain = 20

/**
 * Something happens: its fact is written, and whoever listens is called, in the caller's transaction. What has happened
 * before by its `once` changes nothing. Gives how many were new.
 */
export async function happen(tx: Db, what: Happening | readonly Happening[]): Promise<number> {
  const all = [what].flat() as readonly Happening[]
  const isHeard = (h: Happening) => listeners(tx, h).length > 0
  let fresh = await write(
    tx,
    all.filter((h) => !isHeard(h)),
  )
  for (const together of inGroups(tx, all.filter(isHeard))) {
    const n = await write(tx, together)
    fresh += n
    const inner = n ? await nested(tx, together[0]!) : undefined
    if (!inner) continue
    for (const l of tx.context.listeners) {
      const theirs = together.filter((h) => l.to.includes(h.kind))
      if (theirs.length) await l.hear(inner, theirs)
    }
  }
  return fresh
}

const listeners = (tx: Db, h: Happening) => tx.context.listeners.filter((l) => l.to.includes(h.kind))

/**
 * What is new for certain is heard together: all of it where every listener takes any, otherwise what is alike and follows one
 * another. Of what may have happened before, only one by one tells which is new.
 */
function inGroups(tx: Db, all: readonly Happening[]): (readonly Happening[])[] {
  if (all.every((h) => !h.once && listeners(tx, h).every((l) => l.hearsAny))) return all.length ? [all] : []
  const groups: Happening[][] = []
  for (const h of all) {
    const last = groups.at(-1)
    if (last && !h.once && !last[0]!.once && isAlike(h, last[0]!)) last.push(h)
    else groups.push([h])
  }
  return groups
}

const isAlike = (a: Happening, b: Happening) => a.kind === b.kind && a.subject === b.subject && a.at === b.at

/** The transaction as what is set off sees it; undefined, with a word of it, where too much has set one another off. */
async function nested(tx: Db, h: Happening): Promise<Db | undefined> {
  const depth = tx.context.depth + 1
  if (depth > longestChain) {
    await write(tx, [{ kind: "chain-stopped", at: h.at, person: h.person, funnel: h.funnel, words: h.words }])
    return undefined
  }
  const inner: Db = { ...tx, context: { ...tx.context, depth }, transaction: (work) => work(inner) }
  return inner
}

/** What a fact has in each column; those that none of several has anything in are left out. */
const columns: Readonly<Record<string, (f: Happening) => unknown>> = {
  once: (f) => (f.once ? onceKey(f.once) : null),
  person_id: (f) => f.person ?? null,
  funnel_id: (f) => f.funnel ?? null,
  visitor: (f) => f.visitor ?? null,
  run: (f) => f.run ?? null,
  step_id: (f) => f.step ?? null,
  from_step_id: (f) => f.from ?? null,
  outcome: (f) => f.outcome ?? null,
  via: (f) => f.via ?? null,
  source: (f) => f.source ?? null,
  begun_at: (f) => f.begunAt ?? null,
  subject_id: (f) => f.subject ?? null,
  words: (f) => f.words?.slice(0, 400) ?? null,
  money: (f) => f.money ?? null,
  data: (f) => (f.data ? JSON.stringify(f.data) : null),
}

/** What stands where nothing is said. */
const usual: Readonly<Record<string, unknown>> = { run: 1, money: 0 }

/** Writes facts; gives how many were new. */
async function write(db: Db, facts: readonly Happening[]): Promise<number> {
  if (!facts.length) return 0
  const [recorded, actor] = [new Date(), actorText(db.context.actor)]
  const values = Object.entries(columns).map(([name, of]) => [name, facts.map(of)] as const)
  const said = values.filter(([, all]) => all.some((v) => v !== null))
  const done = await db.write(
    `INSERT IGNORE INTO fact (at, recorded_at, kind, actor${said.map(([name]) => `, ${name}`).join("")}) VALUES ?`,
    [
      facts.map((f, i) => [
        new Date(f.at),
        recorded,
        f.kind,
        actor,
        ...said.map(([name, all]) => all[i] ?? usual[name] ?? null),
      ]),
    ],
  )
  return done.affected
}

/** 128 bits of a key; never made from anything secret. */
export function onceKey(text: string): Buffer {
  return createHash("sha256").update(text).digest().subarray(0, 16)
}
