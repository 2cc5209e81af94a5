import * as v from "valibot"
import { refsOfMoment } from "../moment"
import { isTooLate, waitSchema, waitsUntil } from "../wait"
import { waitWords } from "../words"
import type { SequenceStepModule } from "./kind"

const schema = v.object({ id: v.number(), kind: v.literal("wait"), wait: waitSchema })

export const wait: SequenceStepModule<v.InferOutput<typeof schema>> = {
  label: "Wait",
  schema,
  says: (s, name) => `Wait ${waitWords(s.wait, name)}`,
  turn(s, at) {
    const moment = s.wait.for === "moment" ? s.wait.moment : null
    if (moment && at.moment === undefined) return { go: "ask-moment", moment }
    if (isTooLate(s.wait, at.arrived, at.moment ?? null)) return { go: "past" }
    const until = waitsUntil(s.wait, at.arrived, at.zone, at.moment ?? null)
    if (until <= at.now) return { go: "on" }
    // What comes before a moment is of no use after it.
    const before = s.wait.for === "moment" && s.wait.minutes < 0 && at.moment
    return { go: "rest", until, listens: false, ...(before ? { notAfter: before } : {}) }
  },
  refs: (s) => (s.wait.for === "moment" ? refsOfMoment(s.wait.moment) : []),
  waits: true,
}
