import * as v from "valibot"
import { html } from "../../html"
import { words } from "../../words/en"
import { chaptersCss } from "../film"
import { replayCss } from "../replay"
import { priceCss } from "../selling"
import { amountCss } from "../style"
import { type BlockModule, id } from "./kind"

const schema = v.object({ id, kind: v.literal("replay") })

/** What was shown, for whoever had a seat: until when, its chapters, and from its minute on what it leads to. */
export const replay: BlockModule<v.InferOutput<typeof schema>> = {
  name: "the replay",
  schema,
  onlyWhere: "asked",
  fresh: (id) => ({ id, kind: "replay" }),
  html(out, _, { context, mark, webinar }) {
    if (context.release !== 0 && webinar !== null) out.part({ part: "replay", webinar })
    else out.text(html`<div${mark}><p class="section tinted">${words.page.replaySample}</p></div>`)
  },
  program: () => "chapters",
  css: [replayCss, chaptersCss, amountCss, priceCss],
  refs: () => [],
  gap: () => null,
  line: () => "The replay",
}
