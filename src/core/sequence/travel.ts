// Where somebody goes next in a sequence, when, and why: one pure function. What can't be known without asking (a question
// about them, a moment of theirs) or without doing (a tag put on) is given back, and it is asked again with the answer.
import type { Segment } from "../person/segment/segment"
import { type Flow, stepAfter, stepInto, stepOf } from "./flow"
import type { Moment } from "./moment"
import type { Doing, StepAt } from "./step/kind"
import { mailOf, type SequenceStep, sequenceStepKinds } from "./step/list"

/** Where somebody is: at a step since an instant (ms); no step: they have come to the end. */
export type FlowPlace = { readonly step: number | null; readonly arrived: number }

export type Halt =
  /** They get an e-mail at that instant, and go on behind it when it has gone; they are there, or at the wait before it. */
  | {
      readonly at: "mail"
      readonly place: FlowPlace
      readonly mail: number
      readonly due: number
      /** From then on it is left out. */
      readonly notAfter?: number
    }
  | { readonly at: "rest"; readonly place: FlowPlace; readonly until: number; readonly listens: boolean }
  | { readonly at: "question"; readonly place: FlowPlace; readonly question: Segment }
  | { readonly at: "moment"; readonly place: FlowPlace; readonly moment: Moment }
  /** To be done; they go on at `next`. */
  | { readonly at: "doing"; readonly place: FlowPlace; readonly doing: Doing; readonly next: FlowPlace }
  | { readonly at: "end" }

export type Traveller = Pick<StepAt, "now" | "zone" | "answer" | "moment">

/**
 * Takes somebody on from their place until they wait, get an e-mail, or something must be asked or done. Instants in ms.
 * `answer` and `moment` are about the step they stand at; further on they are unknown again. Every call comes to a halt:
 * a sequence has no way back, so no step is met twice.
 */
export function travel(flow: Flow, from: FlowPlace, who: Traveller): Halt {
  let place = from
  let known: Pick<Traveller, "answer" | "moment"> = who
  for (;;) {
    const step = place.step === null ? undefined : stepOf(flow, place.step)
    if (!step) return { at: "end" }
    const turn = sequenceStepKinds[step.kind].turn(step, {
      ...known,
      arrived: place.arrived,
      now: who.now,
      zone: who.zone,
    })
    const goTo = (next: SequenceStep | null): FlowPlace => ({ step: next?.id ?? null, arrived: who.now })
    switch (turn.go) {
      case "end":
        return { at: "end" }
      case "send":
        return { at: "mail", place, mail: turn.mail, due: Math.max(place.arrived, who.now) }
      case "do":
        return { at: "doing", place, doing: turn.doing, next: goTo(stepAfter(flow, step.id)) }
      case "ask":
        return { at: "question", place, question: turn.question }
      case "ask-moment":
        return { at: "moment", place, moment: turn.moment }
      case "rest": {
        // An e-mail that comes right after a wait is put down with its instant at once: what is planned can be seen.
        const next = turn.listens ? null : stepAfter(flow, step.id)
        const mail = next ? mailOf(next) : null
        const { notAfter } = turn
        if (mail !== null)
          return { at: "mail", place, mail, due: turn.until, ...(notAfter === undefined ? {} : { notAfter }) }
        return { at: "rest", place, until: turn.until, listens: turn.listens }
      }
      case "into":
        place = goTo(stepInto(flow, step, turn.side))
        break
      case "past": {
        let next = stepAfter(flow, step.id)
        while (next && !sequenceStepKinds[next.kind].waits) next = stepAfter(flow, next.id)
        place = goTo(next)
        break
      }
      case "on":
        place = goTo(stepAfter(flow, step.id))
        break
    }
    known = { answer: undefined, moment: undefined }
  }
}
