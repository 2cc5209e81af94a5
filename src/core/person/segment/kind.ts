// What there is to know of a kind of condition: its shape, its words, how it is asked of one person and of all of them.
import * as v from "valibot"
import type { SurveyAnswers } from "../../course/survey"
import type { Ref, Referred } from "../../reference"

/** What segments ask about somebody, as plain facts. */
export type Known = {
  readonly joinedAt: number
  readonly source: string
  readonly zone: string
  readonly tags: ReadonlySet<number>
  /** What is known of their fields, folded; of a choice its number. */
  readonly fields: ReadonlyMap<number, string>
  /** Courses of which they may open something now. */
  readonly courses: ReadonlySet<number>
  /** Of a course's live lessons, how many there are and how many they have done. */
  readonly lessons: ReadonlyMap<number, { readonly of: number; readonly done: number }>
  readonly done: ReadonlySet<number>
  /** Lessons they have opened. */
  readonly looked: ReadonlySet<number>
  /** What they have paid for and not been given all of it back; instants in ms. */
  readonly bought: readonly {
    readonly offer: number
    readonly at: number
    readonly how: WayToPay
    /** The coupon's code as it is compared; empty: none. */
    readonly coupon: string
  }[]
  /** What was charged, less what was given back, in minor units. */
  readonly paid: readonly { readonly currency: string; readonly amount: number; readonly at: number }[]
  readonly plans: readonly { readonly offer: number; readonly state: PlanState }[]
  /** When they last looked at a lesson; null: never. */
  readonly lastHere: number | null
  /** E-mails they got, and of which sequence; null: of none. */
  readonly got: readonly { readonly sequence: number | null; readonly at: number }[]
  /** The steps they came to. */
  readonly visited: readonly { readonly step: number; readonly at: number }[]
  /** What they answered in surveys, by question. */
  readonly surveys: readonly { readonly lesson: number; readonly block: string; readonly answers: SurveyAnswers }[]
  /** E-mails they opened, and of which sequence; null: of none. Instants in ms. */
  readonly opened: readonly { readonly sequence: number | null; readonly at: number }[]
  /** When they followed links in e-mails. */
  readonly clicked: readonly number[]
  /** Whether their address takes e-mails: neither left nor undeliverable. */
  readonly receives: boolean
  /** Whether they are an active affiliate. */
  readonly affiliate: boolean
  /** Segments that are kept by name, and that they are in. */
  readonly segments: ReadonlySet<number>
}

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
  /** Of one person; `now` in ms. */
  holds(c: C, who: Known, now: number): boolean
  /** The same of all of them; `segment` asks one that is kept by name. */
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
