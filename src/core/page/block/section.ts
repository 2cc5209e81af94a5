import * as v from "valibot"
import { html } from "../../html"
import { type BandName, bandNames } from "../../look/kind"
import { refTo } from "../../reference"
import { pictureTag } from "../picture"
import { backClass } from "../style"
import { type BlockModule, id, reference } from "./kind"

export type SectionOf<B> = {
  id: string
  kind: "section"
  tone: BandName
  /** A picture behind what it holds, under a scrim. */
  media?: number | null | undefined
  blocks: B[]
}

export const sectionSchema = <B>(block: v.GenericSchema<unknown, B>) =>
  v.object({
    id,
    kind: v.literal("section"),
    tone: v.picklist(bandNames),
    media: v.optional(v.nullable(reference)),
    blocks: v.pipe(v.array(block), v.maxLength(60)),
  })

const names: Readonly<Record<BandName, string>> = { plain: "Part", tinted: "Tinted part", dark: "Dark part" }

/** A band of the page that holds others. Its HTML opens it; what it holds and its end are written by whoever walks the tree. */
export const section: Omit<BlockModule<SectionOf<unknown>>, "schema"> = {
  name: "section",
  fresh: (id) => ({ id, kind: "section", tone: "tinted", blocks: [] }),
  html(out, b, { mark, context }) {
    const back = b.media ? context.pictures.get(b.media) : undefined
    out.text(html`<div${mark} class="section ${b.tone}${back && b.media ? ` back ${backClass(b.media)}` : ""}">`)
    if (back) out.text(pictureTag(back, { as: "full", also: "behind" }))
  },
  css: [
    ".section.back{position:relative;isolation:isolate}.back>.behind{position:absolute;inset:0;z-index:-2;width:100%;height:100%;max-width:none;object-fit:cover;border-radius:0;margin:0}.section.back::after{content:'';position:absolute;inset:0;z-index:-1;background:var(--g);opacity:var(--scrim,.85)}",
  ],
  refs: (b) => refTo("media", b.media ?? null, "shows it"),
  gap: () => null,
  line: (b) => names[b.tone],
}
