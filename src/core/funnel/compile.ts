// The page of a step becomes finished HTML: static pieces, and between them typed slots for what only the moment knows.

import { html, raw } from "../html"
import type { Look } from "../look/look"
import { askedFields, formOf } from "../page/block/form"
import type { BlockAt, ButtonTarget } from "../page/block/kind"
import { blockKinds, writeBlock } from "../page/block/list"
import { type BlockContext, type CompiledPage, type Picture, seenPath } from "../page/compile"
import type { Page } from "../page/document"
import { type First, firstScreen } from "../page/first"
import { scripts } from "../page/scripts"
import { wayHtml } from "../page/selling"
import { backClass, fontLinks, scrimCss, styleSheet, wayCss } from "../page/style"
import { allBlocks } from "../page/walk"
import { Writer } from "../page/writer"
import { targetAddress } from "./address"
import type { Funnel, Step } from "./draft"
import { recruitsFor, soldAt, stepKinds, webinarOf } from "./step/list"

export type CompileContext = BlockContext & {
  readonly funnel: Funnel
  readonly school: {
    readonly name: string
    readonly postalAddress: string
    readonly look: Look
    readonly logo?: Picture | null
  }
}

/** Compiles the page of a step. Throws where the step has none. Text is escaped; rich text is taken as sanitised. */
export function compilePage(step: Step, context: CompileContext): CompiledPage {
  if (!step.page) throw new Error(`the step ${step.name} has no page`)
  const { page } = step
  const { look, logo } = context.school
  const webinar = webinarOf(step)
  const first = firstScreen(page, look.first)
  const wide = page.width
    ? page.width === "wide"
    : (first?.show ?? null) !== null || page.blocks.some((b) => blockKinds[b.kind].wide)
  const style = pageStyle(page, first, context)
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
    html`<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><title>${page.title}</title><meta name="referrer" content="strict-origin-when-cross-origin"><link rel="icon" href="data:,">${fontLinks(look)}<style>${raw(style)}</style></head><body><div class="head">${logo ? html`<img src="${logo.url}" width="${logo.width}" height="${logo.height}" alt="${context.school.name}">` : html`<span dir="auto">${context.school.name}</span>`}</div><main${wide ? html` class="wide"` : ""}>`,
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
  if (first) writeFirst(writer, first, page, at)
  for (const b of first?.rest ?? page.blocks) writeBlock(writer, b, at)
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

/** The CSS of what stands on the page, and of nothing else. */
function pageStyle(page: Page, first: First | null, { school: { look }, pictures }: CompileContext): string {
  const blocks = [...allBlocks(page.blocks)]
  const kinds = new Set(blocks.map((b) => b.kind))
  const ground = page.ground ?? "plain"
  const tones = blocks.map((b) => ("tone" in b ? b.tone : "tinted"))
  const behind = first?.arrangement === "behind" && first.show && "media" in first.show ? first.show.media : null
  const backs = blocks.flatMap((b) => ("tone" in b && b.media ? [{ media: b.media, tone: b.tone }] : []))
  const scrims = [...(behind ? [{ media: behind, tone: ground }] : []), ...backs].map(({ media, tone }) =>
    scrimCss(look.bands[tone], [[media, pictures.get(media) ?? {}]]),
  )
  return [
    styleSheet(look, {
      blocks: [...kinds],
      own: [wayCss, ...[...kinds].flatMap((kind) => blockKinds[kind].css ?? [])],
      arrangement: first?.arrangement ?? null,
      bands: [ground, ...tones],
      ...(page.ground ? {} : { loud: true }),
    }),
    ...new Set(scrims),
  ].join("")
}

/** The first screen: its words, and beside, behind or above them what is shown. */
function writeFirst(out: Writer, first: First, page: Page, at: Omit<BlockAt, "mark">): void {
  const { arrangement, show } = first
  const back = arrangement === "behind" && show && "media" in show && show.media ? ` ${backClass(show.media)}` : ""
  out.text(html`<header class="first ${page.ground ?? "plain"} ${arrangement}${back}"><div class="words">`)
  for (const b of first.words) writeBlock(out, b, at)
  out.text(html`</div>`)
  if (show) {
    out.text(html`<div class="show">`)
    writeBlock(out, show, at)
    out.text(html`</div>`)
  }
  out.text(html`</header>`)
}
