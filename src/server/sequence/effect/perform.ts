// Doing what something sets off, for one person or many: an effect of each kind by its own file.
import type { Action } from "@/core/sequence/effect/list"
import type { Db } from "../../db/pool"

export type OrderOf = { readonly id: number; readonly story: number }

export type EffectAbout = {
  readonly at: number
  /** What gives whatever an effect opens, so that it can end with it. */
  readonly origin: string
  /** The funnel it happened in; null where it happened in none. */
  readonly funnel: number | null
  /** The order that set it off, and the first of its story, where this comes of buying. */
  readonly order?: OrderOf
}

/** To be called inside a transaction. */
export type Perform = (tx: Db, effect: Action, people: readonly number[], about: EffectAbout) => Promise<void>

/** What is done for one person after the other. */
export const forEach =
  (one: (tx: Db, effect: Action, person: number, about: EffectAbout) => Promise<void>): Perform =>
  async (tx, effect, people, about) => {
    for (const person of people) await one(tx, effect, person, about)
  }
