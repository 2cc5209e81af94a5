// A page document becomes finished HTML: static pieces, and between them typed slots for what only the moment knows.
import { addressOf, type CourseCard, type Funnel, type Step, stepById, streamTo } from "../funnel/draft"
import { stepKinds } from "../funnel/kinds"
import { words } from "../words/en"
import type { Block, Page, Target } from "./document"
import { escapeHtml } from "./html"
import { checkoutHtml, checkoutScript, decisionHtml, type OfferCard, priceHtml, wayHtml } from "./selling"
import { fontLinks, type Look, styleSheet } from "./style"

/** What is filled in when the page is answered. All are empty on a first look. */
export type Slot = "error" | "email" | "name"

/** A part that is made anew for each look: a price, a checkout's form, a further offer's yes and no, the proof. */
export type Part =
  | { readonly part: "price"; readonly offer: number }
  | { readonly part: "checkout" | "decision" | "proof"; readonly block: string }

/** The picture, one pixel large, by which a newcomer shows to be a browser. */
export const seenPath = "seen.gif"

export type CompiledPage = {
  readonly step: number
  readonly path: string
  readonly entry: boolean
  /** Strings are finished HTML. */
  readonly pieces: readonly (string | { readonly slot: Slot } | Part)[]
  /** The one style sheet and the one script inside, as the content security policy must name them. */
  readonly style: string
  readonly script: string
  /** The words a visitor agrees to when they send this page's form. */
  readonly consent: string
  /** Whether what is joined here waits for the press in the mailbox (double opt-in). */
  readonly confirm: boolean
  /** Whether its form is taken from pages of other sites, too. Releases from before had no choice, and aren't. */
  readonly foreign?: boolean
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
}

/** Tells the server where the visitor's clock stands, so that mail comes in their morning. The page works without. */
const zoneScript = `for(const f of document.forms)if(f.zone)try{f.zone.value=Intl.DateTimeFormat().resolvedOptions().timeZone}catch{}`

/** Compiles the page of a step. Throws where the step has none. Text is escaped; rich text is taken as sanitised. */
export function compilePage(step: Step, context: CompileContext): CompiledPage {
  if (!step.page) throw new Error(`the step ${step.name} has no page`)
  const { page } = step
  const style = styleSheet(context.school.look)
  const form = findForm(page)
  const script = context.release === 0 ? "" : step.kind === "checkout" ? checkoutScript : form ? zoneScript : ""
  const writer = new Writer()
  writer.text(
    `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><title>${escapeHtml(page.title)}</title><meta name="referrer" content="strict-origin-when-cross-origin"><link rel="icon" href="data:,">${fontLinks(context.school.look)}<style>${style}</style></head><body><main>`,
  )
  const state = { headlines: 0 }
  if (step.kind === "further") writer.text(wayHtml(1))
  if (step.kind === "welcome" && context.funnel.steps.some((s) => s.kind === "checkout")) writer.text(wayHtml(2))
  for (const b of page.blocks) writeBlock(writer, b, step, context, state)
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
  }
}

/** The HTML with its slots filled; values are escaped here. */
export function fillPage(
  pieces: CompiledPage["pieces"],
  values: Partial<Record<Slot, string>>,
  part: (p: Part) => string = () => "",
): string {
  return pieces
    .map((p) => {
      if (typeof p === "string") return p
      if ("part" in p) return part(p)
      const value = escapeHtml(values[p.slot] ?? "")
      return p.slot === "error" && value ? `<p class="wrong" role="alert" tabindex="-1" autofocus>${value}</p>` : value
    })
    .join("")
}

/** The parts of a page that are made anew for each look. */
export function partsOf(page: CompiledPage): Part[] {
  return page.pieces.filter((p) => typeof p === "object" && "part" in p) as Part[]
}

/** Where a button on this step leads, as an address, or null where it leads nowhere. */
export function targetAddress(target: Target | null, step: Step, funnel: Funnel): string | null {
  if (!target) return null
  if (target.to === "form") return step.page && findForm(step.page) ? "#join" : null
  const to = target.to === "step" ? stepById(funnel, target.step) : streamTo(funnel, step.id, target.outcome)
  return to ? addressOf(funnel, to) : null
}

function findForm(page: Page): Extract<Block, { kind: "form" }> | undefined {
  const walk = (blocks: readonly Block[]): Extract<Block, { kind: "form" }> | undefined => {
    for (const b of blocks) {
      if (b.kind === "form") return b
      const inner = b.kind === "section" ? walk(b.blocks) : undefined
      if (inner) return inner
    }
    return undefined
  }
  return walk(page.blocks)
}

class Writer {
  readonly pieces: (string | { slot: Slot } | Part)[] = []
  text(html: string) {
    const last = this.pieces.at(-1)
    if (typeof last === "string") this.pieces[this.pieces.length - 1] = last + html
    else this.pieces.push(html)
  }
  slot(slot: Slot) {
    this.pieces.push({ slot })
  }
  part(part: Part) {
    this.pieces.push(part)
  }
}

function writeBlock(
  out: Writer,
  block: Block,
  step: Step,
  context: CompileContext,
  state: { headlines: number },
): void {
  // The editor finds a block by this id when somebody clicks on it; a visitor's page does not need it.
  const mark = context.release === 0 ? ` data-block="${block.id}"` : ""
  switch (block.kind) {
    case "headline": {
      const tag = state.headlines++ === 0 ? "h1" : "h2"
      out.text(`<${tag}${mark} dir="auto">${escapeHtml(block.text)}</${tag}>`)
      return
    }
    case "text":
      out.text(`<div${mark} dir="auto">${block.html}</div>`)
      return
    case "list":
      out.text(`<ul${mark}>${block.items.map((i) => `<li dir="auto">${escapeHtml(i)}</li>`).join("")}</ul>`)
      return
    case "picture": {
      const picture = block.media === null ? undefined : context.pictures.get(block.media)
      if (picture)
        out.text(
          `<img${mark} src="${escapeHtml(picture.url)}" width="${picture.width}" height="${picture.height}" alt="${escapeHtml(block.alt)}">`,
        )
      else if (mark) out.text(`<p${mark} class="small">${words.page.pictureMissing}</p>`)
      return
    }
    case "button": {
      const address = targetAddress(block.leads, step, context.funnel)
      out.text(
        `<p${mark} class="way"><a class="go" dir="auto" href="${escapeHtml(address ?? "#")}">${escapeHtml(block.says)}</a></p>`,
      )
      return
    }
    case "form":
      writeForm(out, block, step, context, mark)
      return
    case "lessons": {
      const course = context.funnel.courses.find((c) => c.id === block.course)
      out.text(`<ol${mark} class="lessons">${course ? lessonRows(course) : ""}</ol>`)
      return
    }
    case "video": {
      const video = block.media === null ? undefined : context.videos.get(block.media)
      if (video)
        out.text(
          `<video${mark} src="${escapeHtml(video.url)}" autoplay muted loop playsinline controls aria-label="${escapeHtml(block.says)}"></video>`,
        )
      else if (mark) out.text(`<p${mark} class="small">${words.page.videoMissing}</p>`)
      return
    }
    case "price":
    case "checkout":
    case "decision":
    case "proof":
      writePart(out, block, step, context, mark)
      return
    case "section":
      out.text(`<div${mark} class="section ${block.tone}">`)
      for (const b of block.blocks) writeBlock(out, b, step, context, state)
      out.text("</div>")
  }
}

type Selling = Extract<Block, { kind: Part["part"] }>

/** In a release a part is left open; in a preview it shows what it will look like. */
function writePart(out: Writer, block: Selling, step: Step, context: CompileContext, mark: string): void {
  const offer = block.kind === "price" ? block.offer : step.offerId
  if (context.release !== 0) {
    if (block.kind !== "price") out.part({ part: block.kind, block: block.id })
    else if (offer !== null) out.part({ part: "price", offer })
    return
  }
  const card = offer === null ? undefined : context.offers?.[offer]
  out.text(`<div${mark}>${samplePart(block, card, step, context)}</div>`)
}

function samplePart(block: Selling, card: OfferCard | undefined, step: Step, context: CompileContext): string {
  if (block.kind === "proof") return `<p class="section tinted">${words.page.proofSample}</p>`
  if (block.kind === "price" || !card) return priceHtml(card)
  const way = card.ways.find((w) => w.id === step.termsId) ?? card.ways[0]
  const sentence = way?.says ?? ""
  if (block.kind === "decision")
    return decisionHtml({
      action: "#",
      order: "",
      seen: "",
      sentence,
      accept: block.accept + (way?.accept ?? ""),
      decline: block.decline,
      error: null,
    })
  return checkoutHtml({
    action: "#",
    once: "",
    release: 0,
    cards: null,
    error: null,
    email: "",
    askName: block.askName,
    name: "",
    askPostal: false,
    postal: "",
    askCode: block.askCoupon,
    code: "",
    consent: block.consent,
    agreed: false,
    terms: card.ways,
    chosen: way?.id ?? 0,
    bumps: block.bumps.flatMap((b) => {
      const bump = context.offers?.[b.offer]
      return bump
        ? [{ id: b.offer, says: b.says, name: bump.name, price: bump.ways[0]?.says ?? "", picked: false }]
        : []
    }),
    sum: {
      lines: [],
      sentence,
      problem: null,
      again: false,
      ways: {},
      off: null,
      seen: "",
      button: block.says,
      needsCard: false,
      statement: "",
    },
    has: null,
  })
}

function lessonRows(course: CourseCard): string {
  return course.lessons
    .filter((l) => l.state === "live")
    .map((l) => {
      const minutes = l.minutes ? `<span class="m">${l.minutes} min</span>` : ""
      return `<li><span dir="auto">${escapeHtml(l.title)}</span>${minutes}</li>`
    })
    .join("")
}

function writeForm(
  out: Writer,
  block: Extract<Block, { kind: "form" }>,
  step: Step,
  context: CompileContext,
  mark: string,
): void {
  const name = block.askName
    ? [
        `<label for="name">${words.page.firstName}</label><input id="name" name="name" autocomplete="given-name" maxlength="80" value="`,
        `">`,
      ]
    : null
  out.text(`<form${mark} id="join" method="post" action="/${step.path}">`)
  out.slot("error")
  if (name) {
    out.text(name[0]!)
    out.slot("name")
    out.text(name[1]!)
  }
  out.text(
    `<label for="email">${words.page.email}</label><input id="email" name="email" type="email" required autocomplete="email" inputmode="email" maxlength="254" value="`,
  )
  out.slot("email")
  out.text(
    `"><div class="hp" aria-hidden="true"><label for="website">${words.page.honeypot}</label><input id="website" name="website" tabindex="-1" autocomplete="off"></div>` +
      `<input type="hidden" name="release" value="${context.release}"><input type="hidden" name="zone" value="">` +
      `<button class="go" dir="auto"${context.release === 0 ? " disabled" : ""}>${escapeHtml(block.says)}</button>` +
      `<p class="small" dir="auto">${escapeHtml(block.consent)}</p></form>`,
  )
}
