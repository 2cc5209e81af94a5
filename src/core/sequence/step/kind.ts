// What there is to know of a kind of step of a sequence: its shape, its words, and what it does with somebody who is at it.
import type * as v from "valibot"
import type { NameOf } from "../../person/segment/kind"
import type { Segment } from "../../person/segment/segment"
import type { Ref } from "../../reference"
import type { EffectKind } from "../effect/list"
import type { Moment } from "../moment"

/** Something that a step does for a person; `tell` is what it says to the team instead. */
export type Doing =
  | { readonly effect: { readonly kind: EffectKind; readonly settings: object } }
  | { readonly tell: { readonly accounts: readonly number[]; readonly says: string } }

/** What is known of somebody when they are at a step. Instants in ms. */
export type StepAt = {
  readonly now: number
  /** When they came to this step. */
  readonly arrived: number
  /** IANA zone of the reader. */
  readonly zone: string
  /** What was answered to the step's question; undefined: it wasn't asked yet. */
  readonly answer: boolean | undefined
  /** The moment that the step waits for; null: there is none for them; undefined: it wasn't asked yet. */
  readonly moment: number | null | undefined
}

export type Turn =
  | { readonly go: "on" }
  /** They have come too late for what follows: on to the next step at which time passes. */
  | { readonly go: "past" }
  | { readonly go: "into"; readonly side: "yes" | "no" }
  | { readonly go: "ask"; readonly question: Segment }
  | { readonly go: "ask-moment"; readonly moment: Moment }
  /** They stay until then, or until something that they listen for happens. What follows is of no use from `notAfter` on. */
  | { readonly go: "rest"; readonly until: number; readonly listens: boolean; readonly notAfter?: number }
  | { readonly go: "send"; readonly mail: number }
  | { readonly go: "do"; readonly doing: Doing }
  | { readonly go: "end" }

export type SequenceStepModule<S> = {
  /** As the list to choose from has it. */
  readonly label: string
  readonly schema: v.GenericSchema<unknown, S>
  /** In words, as it stands in the column. */
  says(step: S, name: NameOf): string
  turn(step: S, at: StepAt): Turn
  refs(step: S): Ref[]
  /** Whether time can pass at it: a circle with one of these in it isn't endless in an instant. */
  readonly waits: boolean
}
