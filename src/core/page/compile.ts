// A page document becomes finished HTML: static pieces, and between them typed slots for what only the moment knows.
import { targetAddress } from "../funnel/address"
import type { Funnel, Step } from "../funnel/draft"
import { recruitsFor, soldAt, stepKinds, webinarOf } from "../funnel/step/list"
import type { Asked, Field } from "../person/field"
import { askHtml } from "./ask"
import { asked, formOf } from "./block/form"
import type { Target } from "./block/kind"
import { blockKinds, writeBlock } from "./block/list"
import { escapeHtml } from "./html"
import { scripts } from "./scripts"
import { type OfferCard, wayHtml } from "./selling"
import { fontLinks, type Look, looks, styleSheet } from "./style"
import { allBlocks } from "./walk"
import { type Part, type Piece, type Slot, Writer } from "./writer"

/** The picture, one pixel large, by which a newcomer shows to be a browser. */
export const seenPath = "seen.gif"

export type CompiledPage = {
  readonly step: number
  readonly path: string
  readonly entry: boolean
  /** Strings are finished HTML. */
  readonly pieces: readonly Piece[]
  /** The one style sheet and the one script inside, as the content security policy must name them. */
  readonly style: string
  readonly script: string
  /** The words a visitor agrees to when they send this page's form. */
  readonly consent: string
  /** Whether what is joined here waits for the press in the mailbox (double opt-in). */
  readonly confirm: boolean
  /** Whether its form is taken from pages of other sites, too. Releases from before had no choice, and aren't. */
  readonly foreign?: boolean
  /** The fields that its form asks for, as they were when it was published. */
  readonly asks?: readonly Asked[]
}

export type Picture = { readonly url: string; readonly width: number; readonly height: number }

export type CompileContext = {
  readonly funnel: Funnel
  readonly school: { readonly name: string; readonly postalAddress: string; readonly look: Look }
  readonly pictures: ReadonlyMap<number, Picture>
  /** Number of the release that forms carry; 0 in a preview, whose forms go nowhere. */
  readonly release: number
  /** What offers look like, for a preview; a release asks when it is looked at. */
  readonly offers?: Readonly<Record<number, OfferCard>>
  readonly videos: ReadonlyMap<number, { readonly url: string; readonly type: string }>
  /** The school's fields, where a form can stand. */
  readonly fields?: readonly Field[]
}

/** What a block needs to be written: of a page or, without a funnel, of a lesson. */
export type BlockContext = Omit<CompileContext, "funnel" | "school"> & { readonly funnel: Funnel | null }

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
    `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><title>${escapeHtml(page.title)}</title><meta name="referrer" content="strict-origin-when-cross-origin"><link rel="icon" href="data:,">${fontLinks(context.school.look)}<style>${style}</style></head><body><main>`,
  )
  const sold = soldAt(step)
  const card = sold?.offer ? context.offers?.[sold.offer] : undefined
  const at = {
    step,
    context,
    state: { headlines: 0 },
    webinar,
    takesSeat: stepKinds[step.kind].takesSeat === true,
    recruits: recruitsFor(step),
    sold: { card, way: card?.ways.find((w) => w.id === sold?.terms) ?? card?.ways[0] },
    address: (target: Target | null) => targetAddress(target, step, context.funnel),
  }
  if (sold?.as === "more") writer.text(wayHtml(1))
  if (stepKinds[step.kind].welcomes && context.funnel.steps.some((s) => soldAt(s)?.as === "first"))
    writer.text(wayHtml(2))
  for (const b of page.blocks) writeBlock(writer, b, at)
  const postal = context.school.postalAddress ? ` · ${context.school.postalAddress}` : ""
  writer.text(`</main><footer dir="auto">${escapeHtml(context.school.name + postal)}</footer>`)
  // Asked for by whoever draws the page, which is how a newcomer shows to be a browser.
  if (context.release !== 0 && stepKinds[step.kind].entry) writer.text(`<img src="/${seenPath}" alt="" hidden>`)
  if (script) writer.text(`<script>${script}</script>`)
  writer.text("</body></html>")
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
    asks: form ? asked(form, context.fields ?? []) : [],
  }
}

/** The HTML with its slots filled; values are escaped here. */
export function fillPage(
  pieces: CompiledPage["pieces"],
  values: Partial<Record<Slot | `field-${number}`, string>>,
  part: (p: Part) => string = () => "",
): string {
  return pieces
    .map((p) => {
      if (typeof p === "string") return p
      if ("part" in p) return part(p as Part)
      if ("ask" in p) return askHtml(p.ask, values[`field-${p.ask.id}`] ?? "")
      const value = escapeHtml(values[p.slot] ?? "")
      return p.slot === "error" && value ? `<p class="wrong" role="alert" tabindex="-1" autofocus>${value}</p>` : value
    })
    .join("")
}

/** The parts of a page that are made anew for each look. */
export function partsOf(page: CompiledPage): Part[] {
  return page.pieces.filter((p) => typeof p === "object" && "part" in p) as Part[]
}
