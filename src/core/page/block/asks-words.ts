import * as v from "valibot"
import { html } from "../../html"
import { type BlockModule, id, line } from "./kind"

const schema = v.object({ id, kind: v.literal("asks-words"), says: line })

/** In a lesson, most often the last: a button by which learners say what they think of the course. */
export const asksWords: BlockModule<v.InferOutput<typeof schema>> = {
  name: "ask for their words",
  schema,
  inLessons: true,
  onlyWhere: "asked",
  fresh: (id) => ({ id, kind: "asks-words", says: "Say what you think of it" }),
  // It stands in the lesson, below the course.
  html: (out, b, { mark, says }) =>
    out.text(html`<p${mark} class="way"><a class="go"${says("says")} dir="auto" href="words">${b.says}</a></p>`),
  refs: () => [],
  gap: (b) => (b.says.trim() ? null : "a button on it says nothing"),
  line: (b) => b.says,
}
