// What there is to know of a kind of condition: its shape, its words, how it is asked of one person and of all of them.
import * as v from "valibot"
import type { Ref, Referred } from "../../reference"

export const waysToPay = ["once", "instalments", "subscription"] as const
export type WayToPay = (typeof waysToPay)[number]

export const planStates = ["running", "behind", "ended", "finished"] as const
export type PlanState = (typeof planStates)[number]

/** A part of a WHERE over `person p`, with its values in their order. */
export type Sql = { readonly sql: string; readonly values: readonly unknown[] }

/** What something is called now; null where it is no longer there. */
export type NameOf = (to: Referred, id: number) => string | null

export type ConditionModule<C> = {
  /** As the list to choose from has it. */
  readonly label: string
  readonly schema: v.GenericSchema<unknown, C>
  /** In words that follow "people who". */
  says(c: C, name: NameOf): string
  /** Of all people, as MariaDB is asked; `now` in ms. `segment` asks one that is kept by name. */
  sql(c: C, now: number, segment: (id: number) => Sql): Sql
  refs(c: C): Ref[]
  /** Whether it holds of somebody of whom nothing is known. */
  stranger(c: C): boolean
}

export const day = 86_400_000
export const id = v.pipe(v.number(), v.integer(), v.minValue(1))
export const days = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(3650))
export const percent = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(100))

/** `p` is among the people that a query finds, or isn't. The query names `person_id`, which is never null. */
export function among(has: boolean, query: string, values: readonly unknown[]): Sql {
  return { sql: `p.id ${has ? "" : "NOT "}IN (${query})`, values }
}

export const daysWords = (n: number) => (n === 1 ? "day" : `${n} days`)
export const nameWords = (name: string | null) => (name === null ? "something that is no longer there" : `“${name}”`)
