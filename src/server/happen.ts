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
  const all = Array.isArray(what) ? (what as readonly Happening[]) : [what as Happening]
  const heard = new Set(tx.context.listeners.flatMap((l) => l.to))
  const unheard = all.filter((h) => !heard.has(h.kind))
  let fresh = await write(tx, unheard)
  const heardOnes = all.filter((h) => heard.has(h.kind))
  if (isOneKind(heardOnes) && listeners(tx, heardOnes[0]!).every((l) => l.hearAll)) {
    fresh += await write(tx, heardOnes)
    for (const l of listeners(tx, heardOnes[0]!)) await l.hearAll!(tx, heardOnes)
    return fresh
  }
  if (canBeHeardTogether(tx, heardOnes)) {
    fresh += await write(tx, heardOnes)
    const inner = await nested(tx, heardOnes[0]!)
    if (!inner) return fresh
    for (const l of tx.context.listeners) {
      const theirs = heardOnes.filter((h) => l.to.includes(h.kind))
      if (theirs.length) await l.hearAll!(inner, theirs)
    }
    return fresh
  }
  for (const h of heardOnes) {
    if ((await write(tx, [h])) === 0) continue
    fresh++
    await tell(tx, h)
  }
  return fresh
}

const listeners = (tx: Db, h: Happening) => tx.context.listeners.filter((l) => l.to.includes(h.kind))

/** Whether many are alike, and none can have happened before: what listens may take them together. */
function isOneKind(all: readonly Happening[]): boolean {
  const [first] = all
  return (
    all.length > 1 &&
    all.every((h) => !h.once && h.kind === first!.kind && h.subject === first!.subject && h.at === first!.at)
  )
}

/** Whether several are new for certain, and all that listen take any of them together. */
function canBeHeardTogether(tx: Db, all: readonly Happening[]): boolean {
  return all.length > 1 && all.every((h) => !h.once && listeners(tx, h).every((l) => l.hearsAny))
}

async function tell(tx: Db, h: Happening): Promise<void> {
  const inner = await nested(tx, h)
  if (inner) for (const l of listeners(tx, h)) await l.hear(inner, h)
}

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
