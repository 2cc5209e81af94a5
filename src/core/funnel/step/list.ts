// The kinds of step, and what is asked of them without knowing which one it is.
import * as v from "valibot"
import type { Ref } from "../../reference"
import type { Step } from "../draft"
import { affiliates } from "./affiliates"
import { catalogue } from "./catalogue"
import { checkout } from "./checkout"
import { confirmation } from "./confirmation"
import { further } from "./further"
import { inbox } from "./inbox"
import type { OutcomeFacts, Sold, StepModule } from "./kind"
import { learning } from "./learning"
import { letter } from "./letter"
import { optin } from "./optin"
import { portal } from "./portal"
import { registration } from "./registration"
import { replay } from "./replay"
import { sales } from "./sales"
import { waiting } from "./waiting"
import { welcome } from "./welcome"

const modules = {
  optin,
  inbox,
  letter,
  registration,
  confirmation,
  replay,
  sales,
  checkout,
  further,
  welcome,
  learning,
  affiliates,
  portal,
  catalogue,
  waiting,
} as const

export type StepKind = keyof typeof modules
export type Outcome = { [K in StepKind]: keyof (typeof modules)[K]["outcomes"] }[StepKind]

/** Each kind by its name. Its own settings are read by it alone. */
export const stepKinds = modules as unknown as Readonly<Record<StepKind, StepModule<Outcome, object>>>

/** The words of every outcome. */
export const outcomes = Object.assign({}, ...Object.values(modules).map((m) => m.outcomes)) as Readonly<
  Record<Outcome, OutcomeFacts>
>

export function outcomesOf(kind: StepKind): readonly Outcome[] {
  return Object.keys(stepKinds[kind].outcomes) as Outcome[]
}

/** The outcomes that lead on. */
export function waysOf(kind: StepKind): readonly Outcome[] {
  return outcomesOf(kind).filter((o) => outcomes[o].leads)
}

/** Whether there is anything to do there: not at the end of the river. */
export function hasOutcomes(kind: StepKind): boolean {
  return outcomesOf(kind).length > 0
}

export function hasPage(kind: StepKind): boolean {
  return stepKinds[kind].hasPage
}

/** The kinds of which something holds. */
export function kindsThat(holds: (facts: (typeof stepKinds)[StepKind]) => boolean): StepKind[] {
  return (Object.keys(stepKinds) as StepKind[]).filter((k) => holds(stepKinds[k]))
}

/** Whether an outcome is that of somebody who has just turned something down. */
export function isTurnedDown(outcome: Outcome): boolean {
  return Object.values(stepKinds).some((k) => k.sells?.turned === outcome)
}

/** What a step is set to, checked by its kind. Throws ValiError where it isn't that. */
export function readSettings(kind: StepKind, settings: unknown): Step["settings"] {
  return v.parse(stepKinds[kind].settings, settings) as Step["settings"]
}

/** The webinar that a step is about, or null. */
export function webinarOf(step: Pick<Step, "kind" | "settings">): number | null {
  return stepKinds[step.kind].webinar?.(step.settings) ?? null
}

/** The offer whose affiliates sign up at a step, or null. */
export function recruitsFor(step: Pick<Step, "kind" | "settings">): number | null {
  return stepKinds[step.kind].recruits?.(step.settings) ?? null
}

/** What a step sells; null where it is not of a kind that sells. */
export function soldAt(step: Pick<Step, "kind" | "settings">): (Sold & { readonly as: "first" | "more" }) | null {
  const { sells } = stepKinds[step.kind]
  return sells ? { ...sells.of(step.settings), as: sells.as } : null
}

/** The offer that a step sells, or null. */
export function offerOf(step: Pick<Step, "kind" | "settings">): number | null {
  return soldAt(step)?.offer ?? null
}

/** The course that opens at a step, or null. */
export function courseAt(step: Pick<Step, "kind" | "settings">): number | null {
  return stepKinds[step.kind].opens?.(step.settings) ?? null
}

export function refsOfStep(step: Pick<Step, "kind" | "settings">): Ref[] {
  return stepKinds[step.kind].refs(step.settings)
}
