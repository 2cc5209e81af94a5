// Courses and offers beside each other: each leads to where it can be had; for one that isn't open, somebody waits.
import * as v from "valibot"
import { found } from "../../finding"
import { type CatalogueBlock, catalogueOf, waitingConsent } from "../../page/block/catalogue"
import type { Page } from "../../page/document"
import { clip } from "../phrase"
import type { StepModule } from "./kind"

export const catalogue: StepModule<"waits", object> = {
  label: "catalogue",
  outcomes: { waits: { verb: "asks to be told", done: "asked to be told", leads: true } },
  entry: true,
  hasPage: true,
  blocks: ["catalogue"],
  settings: v.object({}),
  firstPage: () => cataloguePage("", []),
  refs: () => [],
  needsMail: "nobody could ever confirm that they wait, and nobody would be told",
  check: ({ step }) =>
    catalogueOf(step.page)
      ? []
      : [found("page-without-form", step, { step: step.name, lacks: "catalogue" }, { go: "page", step: step.id })],
}

export function cataloguePage(school: string, items: CatalogueBlock["items"]): Page {
  return {
    version: 1,
    title: clip(school ? `What there is at ${school}` : "What there is", 120),
    blocks: [
      { id: "head", kind: "headline", text: "What there is" },
      { id: "catalogue", kind: "catalogue", items, consent: waitingConsent },
    ],
  }
}
