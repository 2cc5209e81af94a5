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
}

export type Happening = {
  readonly kind: HappeningKind
  readonly at: number
  /** Makes the second time harmless. */
  readonly once?: string
  readonly person?: number | null
  readonly funnel?: number | null
  readonly visitor?: Buffer | null
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
  const heard = new Set(tx.around.listeners.flatMap((l) => l.to))
  const quiet = all.filter((h) => !heard.has(h.kind))
  let fresh = await write(tx, quiet)
  const loud = all.filter((h) => heard.has(h.kind))
  if (isOneKind(loud) && listeners(tx, loud[0]!).every((l) => l.hearAll)) {
    fresh += await write(tx, loud)
    for (const l of listeners(tx, loud[0]!)) await l.hearAll!(tx, loud)
    return fresh
  }
  for (const h of loud) {
    if ((await write(tx, [h])) === 0) continue
    fresh++
    await tell(tx, h)
  }
  return fresh
}

const listeners = (tx: Db, h: Happening) => tx.around.listeners.filter((l) => l.to.includes(h.kind))

/** Whether many are alike, and none can have happened before: what listens may take them together. */
function isOneKind(all: readonly Happening[]): boolean {
  const [first] = all
  return (
    all.length > 1 &&
    all.every((h) => !h.once && h.kind === first!.kind && h.subject === first!.subject && h.at === first!.at)
  )
}

async function tell(tx: Db, h: Happening): Promise<void> {
  const depth = tx.around.depth + 1
  if (depth > longestChain) {
    await write(tx, [{ kind: "chain-stopped", at: h.at, person: h.person, funnel: h.funnel, words: h.words }])
    return
  }
  const inner: Db = { ...tx, around: { ...tx.around, depth }, transaction: (work) => work(inner) }
  for (const l of listeners(tx, h)) await l.hear(inner, h)
}

/** Writes facts; gives how many were new. */
async function write(db: Db, facts: readonly Happening[]): Promise<number> {
  if (!facts.length) return 0
  const recorded = new Date()
  const actor = actorText(db.around.actor)
  const rows = facts.map((f) => [
    f.once ? onceKey(f.once) : null,
    new Date(f.at),
    recorded,
    f.kind,
    actor,
    f.person ?? null,
    f.funnel ?? null,
    f.visitor ?? null,
    f.run ?? 1,
    f.step ?? null,
    f.from ?? null,
    f.outcome ?? null,
    f.via ?? null,
    f.source ?? null,
    f.begunAt ?? null,
    f.subject ?? null,
    f.words?.slice(0, 400) ?? null,
    f.money ?? 0,
    f.data ? JSON.stringify(f.data) : null,
  ])
  const done = await db.write(
    "INSERT IGNORE INTO fact (once, at, recorded_at, kind, actor, person_id, funnel_id, visitor, run, step_id, from_step_id, outcome, via, source, begun_at, subject_id, words, money, data) VALUES ?",
    [rows],
  )
  return done.affected
}

/** 128 bits of a key; never made from anything secret. */
export function onceKey(text: string): Buffer {
  return createHash("sha256").update(text).digest().subarray(0, 16)
}
