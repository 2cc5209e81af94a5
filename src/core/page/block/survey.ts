import * as v from "valibot"
import { askedOf, surveyItems } from "../../course/survey"
import { type BlockModule, id } from "./kind"

const schema = v.object({ id, kind: v.literal("survey"), survey: surveyItems })

/** Questions without right and wrong: what a learner thinks, wants, has. */
export const survey: BlockModule<v.InferOutput<typeof schema>> = {
  name: "survey",
  schema,
  inLessons: true,
  onlyWhere: "asked",
  fresh: (id) => ({
    id,
    kind: "survey",
    survey: [{ id: "q1", kind: "choice", asks: "", required: true, several: false, options: ["", ""] }],
  }),
  html: (out, b) => out.part({ part: "survey", block: b.id }),
  refs: () => [],
  gap(b) {
    if (!b.survey.length) return "a survey asks nothing"
    return askedOf(b.survey).length < b.survey.length ? "a question of a survey is still to be written" : null
  },
  text: (b) => b.survey.map((q) => q.asks).join(" "),
  line: (b) => b.survey.find((q) => q.asks.trim())?.asks.slice(0, 60) ?? "survey",
}
