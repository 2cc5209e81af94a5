// What preflight knows of the reminders of a webinar, beyond what its pages say of it themselves.

import { type Finding, found } from "../finding"
import { aboutOf, effectKinds } from "../sequence/effect/list"
import { allSteps, type Flow } from "../sequence/flow"
import { waitOf } from "../sequence/step/list"
import type { Funnel } from "./draft"
import type { PreflightContext } from "./finding"
import { stepKinds, webinarOf } from "./step/list"

/** Sequences that a registration begins, and that may write about the start when it is past. */
export function checkReminders(funnel: Funnel, webinars: PreflightContext["webinars"]): Finding[] {
  return funnel.steps.flatMap((step) => {
    const w = stepKinds[step.kind].takesSeat ? webinars.get(webinarOf(step) ?? 0) : undefined
    const begun = new Set(
      funnel.effects
        .filter((e) => e.step === step.id && effectKinds[e.kind].chooses === "sequence")
        .map((e) => aboutOf(e)),
    )
    return (w?.late ?? [])
      .filter((s) => begun.has(s.sequence))
      .map((s) =>
        found(
          "webinar-not-ready",
          step,
          { why: "late-reminder", sequence: s.name, webinar: w!.title, step: step.name },
          { go: "sequence", sequence: s.sequence },
          { weight: "advice" },
        ),
      )
  })
}

/** Whether something in a sequence waits for the start of a webinar and goes on when that is past, or for whoever comes late. */
export const mayBeLate = (flow: Flow, webinar: number): boolean =>
  allSteps(flow.steps).some((s) => {
    const wait = waitOf(s)
    if (wait?.for !== "moment" || wait.moment.of !== "webinar-starts" || wait.moment.id !== webinar) return false
    return wait.minutes >= 0 || wait.late !== "leave-out"
  })
