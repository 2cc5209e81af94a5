import * as v from "valibot"
import { questionGap, quizFields } from "../../course/quiz"
import { type BlockModule, id } from "./kind"

const schema = v.object({ id, kind: v.literal("quiz"), ...quizFields })

/** Questions whose answers are marked. What is right stays with the school until it has been answered. */
export const quiz: BlockModule<v.InferOutput<typeof schema>> = {
  name: "quiz",
  schema,
  inLessons: true,
  onlyWhere: "asked",
  fresh: (id) => ({
    id,
    kind: "quiz",
    questions: [
      {
        id: "q1",
        kind: "choice",
        asks: "",
        explains: "",
        options: [
          { says: "", right: true },
          { says: "", right: false },
        ],
      },
    ],
    passMark: 70,
    tries: 0,
    shuffle: false,
  }),
  html: (out, b) => out.part({ part: "quiz", block: b.id }),
  refs: () => [],
  gap(b) {
    if (!b.questions.length) return "a quiz asks nothing"
    const gaps = b.questions.map(questionGap)
    if (gaps.includes("no-words")) return "a question of a quiz is still to be written"
    return gaps.includes("no-right-answer") ? "a question of a quiz has no right answer: it isn't asked" : null
  },
  text: (b) => b.questions.map((q) => q.asks).join(" "),
  line: (b) => b.questions.find((q) => q.asks.trim())?.asks.slice(0, 60) ?? "quiz",
}
