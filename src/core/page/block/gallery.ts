import * as v from "valibot"
import { html } from "../../html"
import { refTo } from "../../reference"
import { pictureTag } from "../picture"
import { type BlockModule, id, items, line, reference } from "./kind"

const schema = v.object({
  id,
  kind: v.literal("gallery"),
  as: v.picklist(["pictures", "logos"]),
  items: items({ media: v.nullable(reference), says: line }, 24),
})

/** Several pictures, or the logos or names of places where somebody has taught or been spoken of. */
export const gallery: BlockModule<v.InferOutput<typeof schema>> = {
  name: "gallery, or logos",
  schema,
  wide: true,
  fresh: (id) => ({ id, kind: "gallery", as: "pictures", items: [] }),
  html(out, b, { mark, context, editing }) {
    const shown = b.items.flatMap((i) => {
      const picture = i.media === null ? undefined : context.pictures.get(i.media)
      if (picture)
        return html`<li>${pictureTag(picture, { alt: i.says, as: b.as === "logos" ? "small" : "third" })}</li>`
      return b.as === "logos" && i.says.trim() ? html`<li dir="auto">${i.says}</li>` : []
    })
    if (shown.length) out.text(html`<ul${mark} class="gallery ${b.as}">${shown}</ul>`)
    else if (editing) out.text(html`<p${mark} class="small">Pictures come here.</p>`)
  },
  css: [
    ".gallery{list-style:none;padding:0;max-width:none!important;display:grid;gap:1rem;grid-template-columns:repeat(auto-fill,minmax(min(16rem,46%),1fr))}.gallery li,.gallery img{margin:0}.gallery img{width:100%;aspect-ratio:4/3;object-fit:cover}.gallery.logos{display:flex;flex-wrap:wrap;gap:1rem 2.5rem;align-items:center}.logos li{font:var(--wd) 1.2rem/1.2 var(--fd);color:var(--s)}.logos img{width:auto;height:2.5rem;aspect-ratio:auto;object-fit:contain;border-radius:0}",
  ],
  unseen: true,
  refs: (b) => b.items.flatMap((i) => refTo("media", i.media, "shows it")),
  gap: (b) => (b.items.length ? null : "a gallery on it is empty"),
  line: (b) => (b.as === "logos" ? "Logos" : "Gallery"),
  blind: (b) => b.items.some((i) => i.media !== null && !i.says.trim()),
}
