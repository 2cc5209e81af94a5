import * as v from "valibot"
import { html, raw } from "../../html"
import { type BlockModule, id } from "./kind"

type Holder<K extends string, B> = { id: string; kind: K; blocks: B[] }
export type ColumnsOf<B> = Holder<"columns", B> & { count: 2 | 3 | 4 }
export type BoxOf<B> = Holder<"box", B>

const held = <B>(block: v.GenericSchema<unknown, B>) => v.pipe(v.array(block), v.maxLength(60))

export const columnsSchema = <B>(block: v.GenericSchema<unknown, B>) =>
  v.object({ id, kind: v.literal("columns"), count: v.picklist([2, 3, 4]), blocks: held(block) })

export const boxSchema = <B>(block: v.GenericSchema<unknown, B>) =>
  v.object({ id, kind: v.literal("box"), blocks: held(block) })

/** What it holds stands side by side, as many as fit; a box of several counts as one. */
export const columns: Omit<BlockModule<ColumnsOf<unknown>>, "schema"> = {
  name: "columns",
  wide: true,
  sideBySide: true,
  fresh: (id) => ({ id, kind: "columns", count: 3, blocks: [] }),
  html: (out, b, { mark }) => out.text(html`<div${mark} class="columns of${b.count}">`),
  // Cells that stand beside each other where there is room and below each other where there is none, without a rule for it; the table around
  // them is for the one program that draws by tables alone (common practice).
  mail(b, { mark, width }, held) {
    const each = Math.floor(width / b.count)
    const cells = held(each - 16).map(
      (cell, n) =>
        html`${raw(`<!--[if mso]>${n % b.count === 0 && n ? "</tr><tr>" : ""}<td width="${each}" valign="top"><![endif]-->`)}<div class="cell" style="max-width:${each}px"><div class="in">${cell}</div></div>${raw("<!--[if mso]></td><![endif]-->")}`,
    )
    return html`<div${mark} class="cells">${raw(`<!--[if mso]><table role="presentation" width="${width}" cellpadding="0" cellspacing="0" border="0"><tr><![endif]-->`)}${cells}${raw("<!--[if mso]></tr></table><![endif]-->")}</div>`
  },
  css: [
    ".columns{display:grid;gap:1.5rem 2rem;margin-block:1.5rem}.columns>*{min-width:0;margin-block:0}@media(min-width:44rem){.of2{grid-template-columns:repeat(2,1fr)}.of3{grid-template-columns:repeat(3,1fr)}.of4{grid-template-columns:repeat(4,1fr)}}",
  ],
  refs: () => [],
  gap: () => null,
  line: (b) => `${b.count} columns`,
}

/** What it holds lies on a card. */
export const box: Omit<BlockModule<BoxOf<unknown>>, "schema"> = {
  name: "box",
  fresh: (id) => ({ id, kind: "box", blocks: [] }),
  html: (out, _, { mark }) => out.text(html`<div${mark} class="box">`),
  mail: (_, { mark, width }, held) =>
    html`<table${mark} role="presentation" class="box" width="100%" cellpadding="0" cellspacing="0" border="0"><tr><td>${held(width - 40)}</td></tr></table>`,
  css: [
    ".box{background:var(--c);border-radius:var(--r);padding:1.5rem;margin-block:1.5rem}.box>:first-child{margin-top:0}.box>:last-child{margin-bottom:0}",
  ],
  refs: () => [],
  gap: () => null,
  line: () => "Box",
}
