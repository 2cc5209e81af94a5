import * as v from "valibot"
import { html } from "../../html"
import { refTo } from "../../reference"
import { cardsCss, catalogueHtml } from "../cards"
import type { Page } from "../document"
import { amountCss, formCss } from "../style"
import { allBlocks } from "../walk"
import { type BlockModule, id, reference } from "./kind"

const schema = v.object({
  id,
  kind: v.literal("catalogue"),
  /** What it shows, in its order. */
  items: v.pipe(v.array(v.union([v.object({ course: reference }), v.object({ offer: reference })])), v.maxLength(60)),
  /** What whoever waits for a course agrees to. */
  consent: v.pipe(v.string(), v.maxLength(600)),
})
export type CatalogueBlock = v.InferOutput<typeof schema>

/** What the school chose to show of what it has: each leads to where it can be had, or takes whoever waits for it. */
export const catalogue: BlockModule<CatalogueBlock> = {
  name: "catalogue",
  schema,
  onlyWhere: "asked",
  wide: true,
  fresh: (id) => ({ id, kind: "catalogue", items: [], consent: waitingConsent }),
  html(out, b, { mark, context, path, editing }) {
    if (context.release !== 0) {
      out.slot("error")
      out.part({ part: "catalogue", items: b.items, consent: b.consent })
      return
    }
    const cards = b.items.flatMap((i) => {
      const course = "course" in i ? context.listed?.[i.course] : undefined
      if (course) return [{ ...course, amount: "", note: "", leads: { path } }]
      const offer = "offer" in i ? context.offers?.[i.offer] : undefined
      const amount = offer?.ways[0]?.amount ?? ""
      return offer
        ? [
            {
              title: offer.name,
              about: offer.promise,
              picture: offer.picture,
              amount,
              note: offer.note,
              leads: { path },
            },
          ]
        : []
    })
    if (cards.length || editing)
      out.text(
        html`<div${mark}>${catalogueHtml(cards, { path, release: 0, consent: b.consent })}${cards.length ? "" : html`<p class="small">The courses and offers that you choose come here.</p>`}</div>`,
      )
  },
  css: [cardsCss, amountCss, formCss],
  refs: (b) =>
    b.items.flatMap((i) => ("course" in i ? refTo("course", i.course, shows) : refTo("offer", i.offer, shows))),
  gap: (b) => (b.items.length ? null : "its catalogue shows nothing"),
  gapSays: "Choose what it shows",
  line: (b) => `${b.items.length} shown`,
}

const shows = "shows it among others"

export const waitingConsent =
  "Tell me by e-mail when it opens, and send me a letter now and then. I can leave at any time with one click."

/** The first catalogue of a page; undefined: it has none. */
export function catalogueOf(page: Page | null): CatalogueBlock | undefined {
  return page
    ? ([...allBlocks(page.blocks)].find((b) => b.kind === "catalogue") as CatalogueBlock | undefined)
    : undefined
}

/** The courses of a page's catalogues, for which somebody can wait there. */
export const waitedFor = (page: Page | null): number[] =>
  page
    ? [...allBlocks(page.blocks)].flatMap((b) =>
        b.kind === "catalogue" ? b.items.flatMap((i) => ("course" in i ? [i.course] : [])) : [],
      )
    : []
