// What there is to know of a kind of effect: something that is done for a person when something happens.
import type * as v from "valibot"
import type { HappeningKind } from "../../happening"
import type { Ref } from "../../reference"

/** What an effect is about, as it is chosen: one of the school's tags (or a new one), sequences, courses or offers; or nothing. */
export type EffectChoice = "tag" | "sequence" | "course" | "offer" | null

/** Whether something is done again for somebody it was done for before. */
export type Again = "no" | "ended" | "at-once"

export type EffectModule<S extends object> = {
  /** As the list to choose from has it. */
  readonly label: string
  /** What it does, of what that is called. */
  says(name: string): string
  readonly chooses: EffectChoice
  readonly settings: v.GenericSchema<unknown, S>
  /** What was chosen, by its number, as settings. */
  of(chosen: number): S
  /** It may be done again for somebody it was done for before, where that is chosen. */
  readonly again?: {
    readonly label: string
    readonly choices: Readonly<Record<Again, string>>
    set(settings: S, again: Again): S
  }
  /** What has happened when it was done, and about which thing: that may be an occasion for more. */
  happens?(settings: S): { readonly kind: HappeningKind; readonly about: number }
  /** The kind without which it does nothing a second time. */
  readonly undoneBy?: "tag-on" | "tag-off"
  /** What it is about; the first gives it its name. */
  refs(settings: S): Ref[]
}
