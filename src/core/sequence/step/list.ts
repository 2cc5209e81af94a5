// The kinds of steps of a sequence, and what is asked of them without knowing which one it is.

import * as v from "valibot"
import { effect } from "./effect"
import { end } from "./end"
import type { SequenceStepModule } from "./kind"
import { send } from "./send"
import { type Split, splitOf } from "./split"
import { tell } from "./tell"
import { wait } from "./wait"
import { waitUntil } from "./wait-until"

const flat = { send, wait, "wait-until": waitUntil, effect, tell, end } as const

type FlatStep = { [K in keyof typeof flat]: v.InferOutput<(typeof flat)[K]["schema"]> }[keyof typeof flat]
interface SplitStep extends Split<SequenceStep> {}
export type SequenceStep = FlatStep | SplitStep
export type SequenceStepKind = SequenceStep["kind"]

export const stepsSchema: v.GenericSchema<unknown, SequenceStep[]> = v.pipe(
  v.array(v.lazy((input) => schemaOf(input))),
  v.maxLength(200),
)

const modules = { ...flat, split: splitOf<SequenceStep>(stepsSchema) }

/** Each kind by its name; a step is handed to its own kind alone. */
export const sequenceStepKinds = modules as unknown as Readonly<
  Record<SequenceStepKind, SequenceStepModule<SequenceStep>>
>

/** The schema of the kind that a step says it is. */
function schemaOf(input: unknown): v.GenericSchema<unknown, SequenceStep> {
  const kind = (input as { kind?: unknown } | null)?.kind
  return typeof kind === "string" && Object.hasOwn(modules, kind)
    ? sequenceStepKinds[kind as SequenceStepKind].schema
    : (v.never() as v.GenericSchema<unknown, SequenceStep>)
}

/** The sides of a step, each with its steps; none where it doesn't split. */
export function sidesOf(
  step: SequenceStep,
): { readonly side: "yes" | "no"; readonly steps: readonly SequenceStep[] }[] {
  return step.kind === "split"
    ? [
        { side: "yes", steps: step.yes },
        { side: "no", steps: step.no },
      ]
    : []
}

/** The same step with other steps at one of its sides. */
export function withSide(step: SequenceStep, side: "yes" | "no", steps: readonly SequenceStep[]): SequenceStep {
  return step.kind === "split" ? { ...step, [side]: steps } : step
}

/** Whether nothing comes behind it, whatever stands there. */
export const isEnd = (step: SequenceStep): boolean => step.kind === "end"

/** The e-mail that a step sends, or null. */
export const mailOf = (step: SequenceStep): number | null => (step.kind === "send" ? step.mail : null)

/** The days and time that a step waits, where it waits so; null where it doesn't. */
export function waitedDays(
  step: SequenceStep,
): { readonly afterDays: number; readonly atMinute: number | null } | null {
  const wait = waitOf(step)
  return wait?.for === "days" ? { afterDays: wait.days, atMinute: wait.at } : null
}

/** What a step waits for, or null. */
export const waitOf = (step: SequenceStep) => (step.kind === "wait" ? step.wait : null)
