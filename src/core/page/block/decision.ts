import * as v from "valibot"
import { html } from "../../html"
import type { Page } from "../document"
import { decisionCss, decisionHtml, priceHtml } from "../selling"
import { allBlocks } from "../walk"
import { type BlockModule, id, line } from "./kind"

const schema = v.object({ id, kind: v.literal("decision"), accept: line, decline: line })
export type DecisionBlock = v.InferOutput<typeof schema>

/** One button that accepts and says what it costs, one plain link that declines. */
export const decision: BlockModule<DecisionBlock> = {
  name: "yes or no",
  schema,
  inFirst: "words",
  onlyWhere: "asked",
  fresh: (id) => ({ id, kind: "decision", accept: "Yes, add it", decline: "No, thank you. Go on without it" }),
  html(out, b, { context, mark, sold: { card, way } }) {
    if (context.release !== 0) return out.part({ part: "decision", block: b.id })
    const sample = decisionHtml({
      action: "#",
      order: "",
      seen: "",
      sentence: way?.says ?? "",
      amount: way?.amount ?? "",
      accept: b.accept + (way?.accept ?? ""),
      decline: b.decline,
      error: null,
    })
    out.text(html`<div${mark}>${card ? sample : priceHtml(undefined)}</div>`)
  },
  css: decisionCss,
  refs: () => [],
  gap: (b) => (b.accept.trim() && b.decline.trim() ? null : "its yes or its no says nothing"),
  line: (b) => b.accept,
  action: (b) => b.id,
}

export function decisionsOf(page: Page | null): DecisionBlock[] {
  return [...allBlocks(page?.blocks ?? [])].filter((b) => b.kind === "decision") as DecisionBlock[]
}
