import * as v from "valibot"
import { refsOfSegment, type Segment, segmentSays, segmentSchema } from "../../person/segment/segment"
import type { SequenceStepModule } from "./kind"

/** `S`: a step of any kind, also one that splits again. */
export type Split<S> = {
  readonly id: number
  readonly kind: "split"
  readonly question: Segment
  readonly yes: readonly S[]
  readonly no: readonly S[]
}

/** @param steps how the steps of a side are read */
export function splitOf<S>(steps: v.GenericSchema<unknown, S[]>): SequenceStepModule<Split<S>> {
  return {
    label: "Split by a question",
    schema: v.object({
      id: v.number(),
      kind: v.literal("split"),
      question: segmentSchema,
      yes: steps,
      no: steps,
    }),
    says: (s, name) => `People who ${segmentSays(s.question, name) || "… (nothing is asked yet)"}?`,
    turn: (s, at) =>
      at.answer === undefined ? { go: "ask", question: s.question } : { go: "into", side: at.answer ? "yes" : "no" },
    refs: (s) => refsOfSegment(s.question),
    waits: false,
  }
}
