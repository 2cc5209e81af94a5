// What stands around every piece of work on a database: who acts, what is remembered of this database, and who listens to
// what happens in it.
import { type Actor, nobody } from "@/core/person/actor"
import type { Db } from "./db/pool"
import type { Happening, HappeningKind } from "./happen"
import { Releases } from "./releases"

export type Listener = {
  readonly to: readonly HappeningKind[]
  /** Called in the transaction in which it happened, once for each that is new. */
  hear(tx: Db, happening: Happening): Promise<void>
}

export type Around = {
  readonly actor: Actor
  readonly releases: Releases
  readonly listeners: readonly Listener[]
  /** How many happenings led to this one, each setting off the next. */
  readonly depth: number
}

export function newAround(listeners: readonly Listener[] = []): Around {
  return { actor: nobody, releases: new Releases(), listeners, depth: 0 }
}
