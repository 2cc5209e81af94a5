// What happened, one append-only row each.
import { createHash } from "node:crypto"
import type { Db } from "../db/pool"

export type FactKind =
  | "arrived"
  | "asked"
  | "confirmed"
  | "asked-again"
  | "signed-in"
  | "admitted"
  | "sequence-begun"
  | "sequence-ended"
  | "tagged"
  | "untagged"
  | "mailed"
  | "mail-unsure"
  | "mail-rejected"
  | "clicked"
  | "lesson-opened"
  | "lesson-done"
  | "left-mail"
  | "returned-to-mail"
  | "bought"
  | "declined"
  | "charged"
  | "charge-failed"
  | "plan-ended"
  | "refunded"
  | "posted"
  | "card-changed"
  | "access-ended"
  | "zone-changed"

export type Fact = {
  readonly kind: FactKind
  readonly at: number
  /** Makes the second time harmless. */
  readonly once?: string
  readonly person?: number | null
  readonly funnel?: number | null
  readonly visitor?: Buffer | null
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
}

/** Writes facts; gives how many were new. */
export async function record(db: Db, facts: readonly Fact[]): Promise<number> {
  if (!facts.length) return 0
  const recorded = new Date()
  const rows = facts.map((f) => [
    f.once ? onceKey(f.once) : null,
    new Date(f.at),
    recorded,
    f.kind,
    f.person ?? null,
    f.funnel ?? null,
    f.visitor ?? null,
    f.step ?? null,
    f.from ?? null,
    f.outcome ?? null,
    f.via ?? null,
    f.source ?? null,
    f.begunAt ?? null,
    f.subject ?? null,
    f.words?.slice(0, 400) ?? null,
    f.money ?? 0,
  ])
  const done = await db.write(
    "INSERT IGNORE INTO fact (once, at, recorded_at, kind, person_id, funnel_id, visitor, step_id, from_step_id, outcome, via, source, begun_at, subject_id, words, money) VALUES ?",
    [rows],
  )
  return done.affected
}

/** 128 bits of a key; never made from anything secret. */
export function onceKey(text: string): Buffer {
  return createHash("sha256").update(text).digest().subarray(0, 16)
}
