// The journal is written by this alone: one entry at a time, each once.

import type { JournalLine } from "@/core/ledger/journal"
import type { Db } from "../db/pool"

/** Writes one entry of the journal; the same entry twice is refused by its key. */
export async function writeJournal(
  tx: Db,
  e: {
    readonly entry: string
    readonly lines: readonly JournalLine[]
    readonly charge: number
    /** The first order of the story. */
    readonly story: number
    readonly currency: string
    readonly at: number
  },
): Promise<void> {
  await tx.insert(
    "journal",
    e.lines.map((l) => ({
      once: `${e.entry}:${l.account}`,
      at: new Date(e.at),
      order_id: e.story,
      charge_id: e.charge,
      account: l.account,
      amount: l.amount,
      currency: e.currency,
      recorded_at: new Date(),
    })),
  )
}
