// The page of a step becomes finished HTML: static pieces, and between them typed slots for what only the moment knows.

import { html, raw } from "../html"
import { catalogueOf } from "../page/block/catalogue"
import { askedFields, formOf } from "../page/block/form"
import type { ButtonTarget } from "../page/block/kind"
import { blockKinds, type WrittenAt, writeBlock } from "../page/block/list"
import { type BlockContext, type CompiledPage, seenPath } from "../page/compile"
import { dataTag, originHere } from "../page/data"
import type { Page } from "../page/document"
import { type First, firstScreen } from "../page/first"
import { headClose, headOpen, type SchoolSeen, schoolHead } from "../page/frame"
import { fillKept } from "../page/kept"
import { legalLinks } from "../page/legal"
import { jpegOf, type Picture } from "../page/picture"
import { scripts } from "../page/scripts"
import { wayHtml } from "../page/selling"
import { describedAs, structured } from "../page/shared"
import { backClass, onCss, scrimCss, styleSheet, wayCss } from "../page/style"
import { allBlocks, openBlocks } from "../page/walk"
import { Writer } from "../page/writer"
import { targetAddress } from "./address"
import type { Funnel, Step } from "./draft"
import { recruitsFor, soldAt, stepKinds, webinarOf } from "./step/list"

export type CompileContext = BlockContext & {
  readonly funnel: Funnel
  readonly school: SchoolSeen & { readonly postalAddress: string }
}

/** Compiles the page of a step. Throws where the step has none. Text is escaped; rich text is taken as sanitised. */
export function compilePage(step: Step, context: CompileContext): CompiledPage {
  if (!step.page) throw new Error(`the step ${step.name} has no page`)
  const page = fillKept(step.page, context.kept)
  const open = { ...page, blocks: openBlocks(page.blocks) }
  const { look } = context.school
  const webinar = webinarOf(step)
  const [top, blocks] = [
    page.blocks.filter((b) => blockKinds[b.kind].atTop),
    page.blocks.filter((b) => !blockKinds[b.kind].atTop),
  ]
  const first = firstScreen({ ...page, blocks }, look.first)
  const wide = page.width
    ? page.width === "wide"
    : (first?.show ?? null) !== null || [...allBlocks(page.blocks)].some((b) => blockKinds[b.kind].wide)
  const style = pageStyle(page, first, context)
  const form = formOf(page)
  const { sells } = stepKinds[step.kind]
  const own =
    sells?.as === "first"
      ? scripts.checkout
      : webinar !== null
        ? stepKinds[step.kind].replays
          ? scripts.replay
          : scripts.dates
        : form
          ? scripts.zone
          : ""
  const programs = new Set([...allBlocks(page.blocks)].flatMap((b) => blockKinds[b.kind].program?.(b) ?? []))
  const script = context.release === 0 ? "" : [own, ...[...programs].map((p) => scripts[p])].join("")
  const sold = soldAt(step)
  const card = sold?.offer ? context.offers?.[sold.offer] : undefined
  const at = {
    path: step.path,
    courses: context.funnel.courses,
    context,
    state: { headlines: 0, first: null as "full" | "half" | null },
    webinar,
    takesSeat: stepKinds[step.kind].takesSeat === true,
    recruits: recruitsFor(step),
    sold: { card, way: card?.ways.find((w) => w.id === sold?.terms) ?? card?.ways[0] },
    address: (target: ButtonTarget | null) => targetAddress(target, step, context.funnel),
  }
  const writer = new Writer()
  writer.text(html`${headOpen(page.title)}<meta name="referrer" content="strict-origin-when-cross-origin">`)
  if (context.release !== 0) writeShared(writer, step, open, context)
  writer.text(headClose(context.school, style))
  for (const b of top) writeBlock(writer, b, at)
  writer.text(html`${schoolHead(context.school)}<main${wide ? html` class="wide"` : ""}>`)
  if (sold?.as === "more") writer.text(wayHtml(1))
  if (stepKinds[step.kind].welcomes && context.funnel.steps.some((s) => soldAt(s)?.as === "first"))
    writer.text(wayHtml(2))
  if (first) writeFirst(writer, first, page, at)
  const rest = first?.rest ?? blocks
  const [above, follows] = [
    rest.filter((b) => !blockKinds[b.kind].follows),
    rest.filter((b) => blockKinds[b.kind].follows),
  ]
  if (follows.length) writer.text(html`<div class="rest">`)
  for (const b of [...above, ...follows]) writeBlock(writer, b, at)
  if (follows.length) writer.text(html`</div>`)
  const postal = context.school.postalAddress ? ` · ${context.school.postalAddress}` : ""
  writer.text(
    html`</main><footer dir="auto">${context.school.name + postal}${legalLinks(context.school.legal)}</footer>`,
  )
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
    consent: form?.consent ?? catalogueOf(page)?.consent ?? "",
    confirm: form?.confirm ?? true,
    foreign: form?.foreign ?? false,
    asks: form ? askedFields(form, context.fields ?? []) : [],
    frames: [...new Set([...allBlocks(page.blocks)].flatMap((b) => blockKinds[b.kind].frames?.(b) ?? []))],
    shown: { about: describedAs(open), picture: pictureOfPage(open, context) },
  }
}

/** What search engines and previews of links are told: only of pages that people come to from outside, what is so, and what everybody sees. */
function writeShared(out: Writer, step: Step, page: Page, context: CompileContext): void {
  if (!stepKinds[step.kind].entry) {
    out.text(html`<meta name="robots" content="noindex">`)
    return
  }
  const says = describedAs(page)
  const described = says && html`<meta name="description" content="${says}">`
  out.text(html`${described}<link rel="canonical" href="`)
  out.slot("origin")
  out.text(
    html`/${step.path}"><meta property="og:type" content="website"><meta property="og:site_name" content="${context.school.name}"><meta property="og:title" content="${page.title}">${says && html`<meta property="og:description" content="${says}">`}<meta property="og:url" content="`,
  )
  out.slot("origin")
  out.text(html`/${step.path}">`)
  const whole = pictureOfPage(page, context)
  const picture = whole ? jpegOf(whole) : drawnPreview(context.release, step.id)
  out.text(html`<meta name="twitter:card" content="summary_large_image"><meta property="og:image" content="`)
  out.slot("origin")
  out.text(
    html`${picture.url}"><meta property="og:image:width" content="${picture.width}"><meta property="og:image:height" content="${picture.height}">`,
  )
  const { pictures, videos } = context
  const about = { courses: context.funnel.courses, school: context.school.name, pictures, videos }
  for (const data of structured(page, about))
    for (const [i, text] of dataTag(data).text.split(originHere).entries()) {
      if (i) out.slot("origin")
      out.text(raw(text))
    }
}

/** The picture that is drawn of a page which has none, of its title alone. */
const drawnPreview = (release: number, step: number) => ({
  url: `/previews/${release}-${step}.jpg`,
  width: 1200,
  height: 630,
})

/** The picture that a page is shown by: the one chosen for it, or the first that stands on it. */
function pictureOfPage(page: Page, context: CompileContext): Picture | null {
  const shown =
    page.picture ?? [...allBlocks(page.blocks)].flatMap((b) => ("media" in b && b.media ? [b.media] : []))[0]
  return (shown ? context.pictures.get(shown) : undefined) ?? null
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
      own: [
        wayCss,
        ...(blocks.some((b) => b.on) ? [onCss] : []),
        ...[...kinds].flatMap((kind) => blockKinds[kind].css ?? []),
      ],
      arrangement: first?.arrangement ?? null,
      bands: [ground, ...tones],
      ...(page.ground ? {} : { loud: true }),
    }),
    ...new Set(scrims),
  ].join("")
}

/** The first screen: its words, and beside, behind or above them what is shown. */
function writeFirst(out: Writer, first: First, page: Page, at: WrittenAt): void {
  const { arrangement, show } = first
  const back = arrangement === "behind" && show && "media" in show && show.media ? ` ${backClass(show.media)}` : ""
  out.text(html`<header class="first ${page.ground ?? "plain"} ${arrangement}${back}"><div class="words">`)
  at.state.first = arrangement === "behind" ? "full" : "half"
  for (const b of first.words) writeBlock(out, b, at)
  out.text(html`</div>`)
  if (show) {
    out.text(html`<div class="show">`)
    writeBlock(out, show, at)
    out.text(html`</div>`)
  }
  at.state.first = null
  out.text(html`</header>`)
}
