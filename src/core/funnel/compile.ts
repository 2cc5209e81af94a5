// The page of a step becomes finished HTML: static pieces, and between them typed slots for what only the moment knows.

import { html, raw } from "../html"
import { type Look, looks } from "../look"
import { askedFields, formOf } from "../page/block/form"
import type { ButtonTarget } from "../page/block/kind"
import { blockKinds, writeBlock } from "../page/block/list"
import { type BlockContext, type CompiledPage, seenPath } from "../page/compile"
import { scripts } from "../page/scripts"
import { wayHtml } from "../page/selling"
import { fontLinks, styleSheet } from "../page/style"
import { allBlocks } from "../page/walk"
import { Writer } from "../page/writer"
import { targetAddress } from "./address"
import type { Funnel, Step } from "./draft"
import { recruitsFor, soldAt, stepKinds, webinarOf } from "./step/list"

export type CompileContext = BlockContext & {
  readonly funnel: Funnel
  readonly school: { readonly name: string; readonly postalAddress: string; readonly look: Look }
}

/** Compiles the page of a step. Throws where the step has none. Text is escaped; rich text is taken as sanitised. */
export function compilePage(step: Step, context: CompileContext): CompiledPage {
  if (!step.page) throw new Error(`the step ${step.name} has no page`)
  const { page } = step
  const used = new Set([...allBlocks(page.blocks)].map((b) => b.kind))
  const colours = looks[context.school.look]
  const webinar = webinarOf(step)
  const style = [
    styleSheet(context.school.look),
    ...[...used].flatMap((kind) => blockKinds[kind].css?.(colours) ?? []),
  ].join("\n")
  const form = formOf(page)
  const { sells } = stepKinds[step.kind]
  const script =
    context.release === 0
      ? ""
      : sells?.as === "first"
        ? scripts.checkout
        : webinar !== null
          ? stepKinds[step.kind].replays
            ? scripts.replay
            : scripts.dates
          : form
            ? scripts.zone
            : ""
  const writer = new Writer()
  writer.text(
    html`<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><title>${page.title}</title><meta name="referrer" content="strict-origin-when-cross-origin"><link rel="icon" href="data:,">${fontLinks(context.school.look)}<style>${raw(style)}</style></head><body><main>`,
  )
  const sold = soldAt(step)
  const card = sold?.offer ? context.offers?.[sold.offer] : undefined
  const at = {
    path: step.path,
    courses: context.funnel.courses,
    context,
    state: { headlines: 0 },
    webinar,
    takesSeat: stepKinds[step.kind].takesSeat === true,
    recruits: recruitsFor(step),
    sold: { card, way: card?.ways.find((w) => w.id === sold?.terms) ?? card?.ways[0] },
    address: (target: ButtonTarget | null) => targetAddress(target, step, context.funnel),
  }
  if (sold?.as === "more") writer.text(wayHtml(1))
  if (stepKinds[step.kind].welcomes && context.funnel.steps.some((s) => soldAt(s)?.as === "first"))
    writer.text(wayHtml(2))
  for (const b of page.blocks) writeBlock(writer, b, at)
  const postal = context.school.postalAddress ? ` · ${context.school.postalAddress}` : ""
  writer.text(html`</main><footer dir="auto">${context.school.name + postal}</footer>`)
  // Asked for by whoever draws the page, which is how a newcomer shows to be a browser.
  if (context.release !== 0 && stepKinds[step.kind].entry) writer.text(html`<img src="/${seenPath}" alt="" hidden>`)
  if (script) writer.text(html`<script>${raw(script)}</script>`)
  writer.text(html`</body></html>`)
  return {
    step: step.id,
    path: step.path,
    entry: stepKinds[step.kind].entry,
    pieces: writer.pieces,
    style,
    script,
    consent: form?.consent ?? "",
    confirm: form?.confirm ?? true,
    foreign: form?.foreign ?? false,
    asks: form ? askedFields(form, context.fields ?? []) : [],
  }
}
