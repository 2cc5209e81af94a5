import { type Look, leastContrast } from "@/core/look/look"
import { blockKinds } from "@/core/page/block/list"
import { allBlocks, type Page } from "@/core/page/document"

/** How a page does in one respect: in words, and as figures for whoever wants them. `good`: nothing is to be done. */
export type Measure = { readonly says: string; readonly figure: string; readonly good: boolean }

/**
 * The line that says how a page does: whether it can be read, loads fast, asks for one thing, leads nowhere else, and shows its
 * pictures to those who can't see. `weight` is in bytes, compressed; null while it isn't known.
 */
export function describe(page: Page, html: string, weight: number | null, look: Look): Measure[] {
  const blocks = [...allBlocks(page.blocks)]
  const actions = blocks.flatMap((b) => blockKinds[b.kind].action?.(b) ?? [])
  const kinds = new Set(actions).size
  const off = (html.match(/<a href="https?:/g) ?? []).length
  const words = html
    .replace(/<style>.*?<\/style>/s, "")
    .replace(/<[^>]*>/g, " ")
    .split(/\s+/).length
  const least = leastContrast(look)
  const blind = blocks.filter((b) => blockKinds[b.kind].blind?.(b)).length
  const light = weight !== null && weight <= mostBytes
  return [
    {
      says: least >= 4.5 ? "Readable" : "Hard to read: too little contrast",
      figure: `contrast ${least.toFixed(1)} : 1, ${Math.max(1, Math.round(words / 220))} min to read`,
      good: least >= 4.5,
    },
    ...(weight === null
      ? []
      : [
          {
            says: light ? "Loads fast" : "Loads slowly",
            figure: `${(weight / 1024).toFixed(1)} of ${mostBytes / 1024} KB`,
            good: light,
          },
        ]),
    {
      says: kinds === 0 ? "No action" : kinds === 1 ? "One action" : `${kinds} different actions`,
      figure: actions.length === 1 ? "1 button" : `${actions.length} buttons`,
      good: kinds <= 1,
    },
    ...(off
      ? [
          {
            says: off === 1 ? "One link leads away" : `${off} links lead away`,
            figure: "visitors may not come back",
            good: false,
          },
        ]
      : []),
    ...(blind
      ? [
          {
            says:
              blind === 1
                ? "A picture says nothing to those who can’t see"
                : `${blind} pictures say nothing to those who can’t see`,
            figure: "write what each shows",
            good: false,
          },
        ]
      : []),
  ]
}

/** HTML and its CSS, compressed. */
const mostBytes = 14 * 1024
