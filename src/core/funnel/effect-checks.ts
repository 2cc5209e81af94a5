// What is wrong with an effect where it is set off in a funnel, by its kind.
import { type Finding, found } from "../finding"
import { courseGiven } from "../offer/gift/list"
import { giftsOf, isFree } from "../offer/offer"
import { aboutOf, type EffectKind } from "../sequence/effect/list"
import type { Effect, Funnel, Step } from "./draft"
import { checkCourse, type PreflightContext } from "./finding"
import { checkSequence } from "./preflight-sequence"

export type EffectCheck = {
  readonly step: Step
  readonly funnel: Funnel
  readonly context: PreflightContext
  /** Whether it is set off for an address alone. */
  readonly free: boolean
}

const checks: Partial<Record<EffectKind, (effect: Effect, at: EffectCheck) => Finding[]>> = {
  "begin-sequence"(effect, { step, funnel, context }) {
    const sequence = funnel.sequences.find((q) => q.id === aboutOf(effect))
    return sequence ? checkSequence(sequence, { step, funnel, context }) : []
  },
  "open-course"(effect, { step, funnel, context: { selling, doors }, free }) {
    const id = aboutOf(effect)
    const course = funnel.courses.find((c) => c.id === id)
    const list = course ? checkCourse(course, step) : []
    if (free && doors.get(id)?.signUpClosed && !doors.get(id)?.closed)
      list.push(
        found(
          "sign-up-closed",
          step,
          { course: effect.name, step: step.name },
          { go: "course", course: id, room: "settings" },
        ),
      )
    const sold = free
      ? [...selling.offers.values()].find(
          (o) => !isFree(o) && giftsOf(o, selling.offers).some((g) => courseGiven(g) === id),
        )
      : undefined
    if (sold)
      list.push(
        found(
          "free-form-gives-paid",
          step,
          { course: effect.name, offer: sold.publicName },
          { go: "wiring", step: step.id },
        ),
      )
    return list
  },
}

export const checkEffect = (effect: Effect, at: EffectCheck): Finding[] => checks[effect.kind]?.(effect, at) ?? []
