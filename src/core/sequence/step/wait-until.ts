import * as v from "valibot"
import { refsOfSegment, segmentSays, segmentSchema } from "../../person/segment/segment"
import { spanWords } from "../words"
import type { SequenceStepModule } from "./kind"

const schema = v.object({
  id: v.number(),
  kind: v.literal("wait-until"),
  question: segmentSchema,
  /** Minutes after which they go on all the same; at most a year. */
  most: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(366 * 1440)),
})

export const waitUntil: SequenceStepModule<v.InferOutput<typeof schema>> = {
  label: "Wait until something happens",
  schema,
  says: (s, name) =>
    `Wait until they ${segmentSays(s.question, name) || "… (nothing is asked yet)"}, at most ${spanWords(s.most)}`,
  turn(s, at) {
    const until = at.arrived + s.most * 60_000
    if (until <= at.now) return { go: "on" }
    if (at.answer === undefined) return { go: "ask", question: s.question }
    return at.answer ? { go: "on" } : { go: "rest", until, listens: true }
  },
  refs: (s) => refsOfSegment(s.question),
  waits: true,
}
