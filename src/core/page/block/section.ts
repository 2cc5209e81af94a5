import * as v from "valibot"
import { html } from "../../html"
import { type BlockModule, id } from "./kind"

export type SectionOf<B> = { id: string; kind: "section"; tone: "plain" | "tinted"; blocks: B[] }

export const sectionSchema = <B>(block: v.GenericSchema<unknown, B>) =>
  v.object({
    id,
    kind: v.literal("section"),
    tone: v.picklist(["plain", "tinted"]),
    blocks: v.pipe(v.array(block), v.maxLength(60)),
  })

/** A part of the page that holds others. Its HTML opens it; what it holds and its end are written by whoever walks the tree. */
export const section: Omit<BlockModule<SectionOf<unknown>>, "schema"> = {
  name: "section",
  fresh: (id) => ({ id, kind: "section", tone: "tinted", blocks: [] }),
  html: (out, b, { mark }) => out.text(html`<div${mark} class="section ${b.tone}">`),
  refs: () => [],
  gap: () => null,
  line: (b) => (b.tone === "tinted" ? "Tinted part" : "Part"),
}
