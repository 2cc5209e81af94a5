// What stands around every piece of work on a database: who acts, what is remembered of this database, and who listens to
// what happens in it.

import type { HappeningKind } from "@/core/happening"
import { type Actor, nobody } from "@/core/person/actor"
import type { Db } from "./db/pool"
import type { Happening } from "./happen"
import type { Letters } from "./port/letter"
import { Releases } from "./releases"

export type Listener = {
  readonly to: readonly HappeningKind[]
  /** Called in the transaction in which they happened, once for all that are new: of one kind, about one thing, at one instant. */
  hear(tx: Db, happenings: readonly Happening[]): Promise<void>
  /** Whether it takes any that came about together, of whatever kind and whoever. */
  readonly hearsAny?: true
}

/** Hears one after the other. */
export const oneByOne =
  (hear: (tx: Db, happening: Happening) => Promise<void>): Listener["hear"] =>
  async (tx, happenings) => {
    for (const h of happenings) await hear(tx, h)
  }

/** What lower domains reach higher ones by. */
export type Wiring = {
  readonly listeners: readonly Listener[]
  readonly letters: Letters
  readonly sequences: Sequences
}

/** How people are taken through sequences: what a step does may begin another, and an e-mail that has gone takes them on. */
export type Sequences = {
  /** Takes these on from where they stand. */
  takeOn(tx: Db, enrolments: readonly number[], at: number): Promise<void>
  afterMails(tx: Db, gone: readonly { readonly enrolment: number; readonly mail: number }[], at: number): Promise<void>
}

export type TxContext = Wiring & {
  readonly actor: Actor
  readonly releases: Releases
  /** How many happenings led to this one, each setting off the next. */
  readonly depth: number
}

export function newTxContext(wiring: Wiring): TxContext {
  return { actor: nobody, releases: new Releases(), ...wiring, depth: 0 }
}
