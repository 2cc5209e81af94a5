// Doing what something sets off, for one person: an effect of each kind by its own file.
import type { Action } from "@/core/sequence/effect/list"
import type { Db } from "../../db/pool"

export type OrderOf = { readonly id: number; readonly story: number }

export type About = {
  readonly person: number
  readonly at: number
  /** What gives whatever an effect opens, so that it can end with it. */
  readonly origin: string
  /** The funnel it happened in; null where it happened in none. */
  readonly funnel: number | null
  /** The order that set it off, and the first of its story, where this comes of buying. */
  readonly order?: OrderOf
}

/** To be called inside a transaction. */
export type Perform = (tx: Db, effect: Action, about: About) => Promise<void>
