import * as v from "valibot"
import { html } from "../../html"
import { refTo } from "../../reference"
import { pictureTag } from "../picture"
import { type BlockModule, id, line, reference } from "./kind"

const schema = v.object({ id, kind: v.literal("signature"), media: v.nullable(reference), name: line })

/** Who writes: a name in the display face, or their own hand as a picture. */
export const signature: BlockModule<v.InferOutput<typeof schema>> = {
  name: "signature",
  schema,
  fresh: (id) => ({ id, kind: "signature", media: null, name: "" }),
  html(out, b, { mark, context, editing, says }) {
    const hand = b.media === null ? undefined : context.pictures.get(b.media)
    if (hand) out.text(html`<p${mark} class="signed">${pictureTag(hand, { alt: b.name, as: "small" })}</p>`)
    else if (b.name.trim() || editing) out.text(html`<p${mark} class="signed"${says("name")} dir="auto">${b.name}</p>`)
  },
  mail: (b, { mark, picture, says, editing }) =>
    b.media !== null
      ? html`<div${mark} class="signed">${picture(b.media, b.name, 220)}</div>`
      : html`${(b.name.trim() || editing) && html`<p${mark} class="signed"${says("name")} dir="auto">${b.name}</p>`}`,
  css: [".signed{font:var(--wd) 1.6rem/1.2 var(--fd)}.signed img{height:4.5rem;width:auto;border-radius:0;margin:0}"],
  unseen: true,
  refs: (b) => refTo("media", b.media, "shows it"),
  gap: (b) => (b.name.trim() ? null : "a signature on it has no name"),
  line: (b) => b.name || "signature",
}
