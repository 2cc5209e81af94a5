// The kinds of effect, and what is asked of them without knowing which one it is.
import * as v from "valibot"
import type { Ref } from "../../reference"
import { beginSequence } from "./begin-sequence"
import { closeCourse } from "./close-course"
import { endSequence } from "./end-sequence"
import { inviteAffiliate } from "./invite-affiliate"
import type { Again, EffectModule } from "./kind"
import { openCourse } from "./open-course"
import { tagOff } from "./tag-off"
import { tagOn } from "./tag-on"

const modules = {
  "begin-sequence": beginSequence,
  "end-sequence": endSequence,
  "open-course": openCourse,
  "close-course": closeCourse,
  "tag-on": tagOn,
  "tag-off": tagOff,
  "invite-affiliate": inviteAffiliate,
} as const

export type EffectKind = keyof typeof modules

/** Each kind by its name; settings are read by their own kind alone. */
export const effectKinds = modules as unknown as Readonly<Record<EffectKind, EffectModule<object>>>

/** What an effect is set to, checked by its kind. Throws ValiError where it isn't that. */
export function readDeed(kind: EffectKind, settings: unknown): Action["settings"] {
  return v.parse(effectKinds[kind].settings, settings) as Action["settings"]
}

export function refsOfDeed(e: Pick<Action, "kind" | "settings">): Ref[] {
  return effectKinds[e.kind].refs(e.settings)
}

/** The number of what an effect is about; 0 where it is about nothing. */
export function aboutOf(e: Pick<Action, "kind" | "settings">): number {
  return refsOfDeed(e)[0]?.id ?? 0
}

/** What it does, in words. */
export function deedSays(e: Pick<Action, "kind" | "name">): string {
  return effectKinds[e.kind].says(e.name)
}

/** Whether it is done again for somebody it was done for before. */
export function againOf(e: Pick<Action, "settings">): Again {
  return (e.settings as { again?: Again }).again ?? "no"
}

/** The sequence that an effect begins, or null. */
export function sequenceBegun(e: Pick<Action, "kind" | "settings">): number | null {
  return e.kind === "begin-sequence" ? (e.settings as { sequence: number }).sequence : null
}
/** Something that is done for a person when something happens. */
export type Action = {
  readonly id: number
  readonly kind: EffectKind
  /** What it is about, by its kind. */
  readonly settings: object
  /** What that is called now. */
  readonly name: string
}
