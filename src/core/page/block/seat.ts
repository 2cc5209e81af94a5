import * as v from "valibot"
import { html } from "../../html"
import { words } from "../../words/en"
import { formCss } from "../style"
import { type BlockModule, id } from "./kind"

const schema = v.object({ id, kind: v.literal("seat") })

/** What somebody has registered for: the date, where they are, for their calendar, and the way into the room. */
export const seat: BlockModule<v.InferOutput<typeof schema>> = {
  name: "the seat",
  schema,
  onlyWhere: "asked",
  fresh: (id) => ({ id, kind: "seat" }),
  html(out, _, { context, mark, webinar }) {
    if (context.release !== 0 && webinar !== null) out.part({ part: "seat", webinar })
    else out.text(html`<div${mark}><p class="section tinted">${words.page.seatSample}</p></div>`)
  },
  css: [formCss],
  refs: () => [],
  gap: () => null,
  line: () => "The seat",
}
