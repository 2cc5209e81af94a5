import * as v from "valibot"
import { html } from "../../html"
import { refTo } from "../../reference"
import { announcementHtml } from "../offer-parts"
import { type BlockModule, id, line, reference } from "./kind"

const schema = v.object({ id, kind: v.literal("announcement"), says: line, offer: v.nullable(reference) })

/** A thin band with its end: where it is about an offer, it stands there as long as the offer can be had. */
export const announcement: BlockModule<v.InferOutput<typeof schema>> = {
  name: "announcement",
  schema,
  atTop: true,
  fresh: (id) => ({ id, kind: "announcement", says: "", offer: null }),
  html(out, b, { mark, context, editing }) {
    if (b.offer !== null && context.release !== 0) out.part({ part: "announcement", offer: b.offer, says: b.says })
    else if (b.says.trim() || editing)
      out.text(
        html`<div${mark} class="bleed">${announcementHtml(b.says || "An announcement", context.offers?.[b.offer ?? 0])}</div>`,
      )
  },
  css: [
    ".bleed,.announced{margin:0!important}.announced{background:var(--a);color:var(--o);padding:.6rem var(--x);font-weight:600;text-align:center}",
  ],
  refs: (b) => refTo("offer", b.offer, "speaks of it"),
  gap: (b) => (b.says.trim() ? null : "an announcement on it says nothing"),
  line: (b) => b.says || "announcement",
}
