import { type Look, leastContrast } from "@/core/look/look"
import { blockKinds } from "@/core/page/block/list"
import { allBlocks, type Page } from "@/core/page/document"
import { readingOf } from "@/core/page/reading"
import { describedAs } from "@/core/page/shared"

/** What a measure is made of, in words, and where it is mended: at a part, in what is set of the page, or at an address of the studio. */
export type MeasuredBy = {
  readonly says: string
  readonly mend?: { readonly block: string } | { readonly page: true } | { readonly href: string }
}

/** How a page does in one respect: in words, and what it is measured by. `good`: nothing is to be done. */
export type Measure = { readonly says: string; readonly good: boolean; readonly by: readonly MeasuredBy[] }

/** What is known of a page as it stands: its HTML, its weight in bytes, compressed, and how wide it is on a phone; null: not yet. */
export type Drawn = { readonly html: string; readonly weight: number | null; readonly phone: PhoneFit | null }

/** What it is: a page that is found by others, a lesson, or an e-mail, whose links lead away from it by nature. */
export type PageAs = "page" | "lesson" | "mail"

/** On a screen of 390 pixels: how many more it takes, and the part that takes them. */
export type PhoneFit = { readonly over: number; readonly block: string | null }

/** HTML and its CSS, compressed. */
const mostBytes = 14 * 1024
/** Plain English begins here (Flesch). */
const plainFrom = 60
/** Longest title and description that are shown whole where a page is found (common practice). */
const [longTitle, longAbout] = [60, 160]

/**
 * The line that says how a page does: whether it can be read, loads fast, asks for one thing, fits a phone, leads nowhere else, shows its
 * pictures to those who can't see, and says what it is where it is found.
 */
export function describe(page: Page, { html, weight, phone }: Drawn, look: Look, as: PageAs): Measure[] {
  const blocks = [...allBlocks(page.blocks)]
  const line = (b: (typeof blocks)[number]) => `${blockKinds[b.kind].name} “${blockKinds[b.kind].line(b).slice(0, 40)}”`
  const acting = blocks.flatMap((b) => {
    const action = blockKinds[b.kind].action?.(b)
    return action ? [{ b, action }] : []
  })
  const kinds = new Set(acting.map((a) => a.action)).size
  const pictures = (html.match(/<img/g) ?? []).length
  const reading = readingOf(blocks.map((b) => blockKinds[b.kind].text?.(b) ?? "").join("\n"))
  const least = leastContrast(look)
  const hard = reading !== null && reading.words > 100 && reading.ease < 30
  const away = blocks.flatMap((b) =>
    "html" in b ? [...b.html.matchAll(/<a href="(https?:[^"]*)/g)].map((m) => ({ b, to: m[1]! })) : [],
  )
  const blind = blocks.filter((b) => blockKinds[b.kind].blind?.(b))
  const about = describedAs(page)
  const [title, said] = [page.title.trim().length, about?.length ?? 0]
  const clear = title > 0 && title <= longTitle && said > 0 && said <= longAbout
  const measures: (Measure | null)[] = [
    {
      says:
        least < 4.5
          ? "Hard to read: too little contrast"
          : hard
            ? "Hard to read: long sentences, long words"
            : "Readable",
      good: least >= 4.5 && !hard,
      by: [
        { says: `Least contrast ${least.toFixed(1)} : 1; 4.5 is enough.`, mend: { href: "/studio/settings/look" } },
        ...(reading
          ? [
              {
                says: `Reading ease ${Math.round(reading.ease)} (${reading.by}); from ${plainFrom} on it is plain. ${Math.round(reading.words / reading.sentences)} words a sentence.`,
              },
              { says: `${Math.max(1, Math.round(reading.words / 220))} min to read.` },
            ]
          : []),
      ],
    },
    weight === null
      ? null
      : {
          says: weight <= mostBytes ? "Loads fast" : "Loads slowly",
          good: weight <= mostBytes,
          by: [
            { says: `${(weight / 1024).toFixed(1)} of ${mostBytes / 1024} KB, compressed.` },
            { says: pictures === 1 ? "One picture." : `${pictures} pictures.` },
          ],
        },
    {
      says: kinds === 0 ? "No action" : kinds === 1 ? "One action" : `${kinds} different actions`,
      good: kinds <= 1,
      by: acting.map(({ b }) => ({ says: line(b), mend: { block: b.id } })),
    },
    phone === null
      ? null
      : {
          says: phone.over <= 0 ? "Fits a phone" : "Too wide for a phone",
          good: phone.over <= 0,
          by: [
            {
              says: phone.over <= 0 ? "Nothing stands out at 390 pixels." : `${phone.over} pixels wider than 390.`,
              ...(phone.block ? { mend: { block: phone.block } } : {}),
            },
          ],
        },
    away.length && as !== "mail"
      ? {
          says: away.length === 1 ? "One link leads away" : `${away.length} links lead away`,
          good: false,
          by: away.map(({ b, to }) => ({ says: to, mend: { block: b.id } })),
        }
      : null,
    blind.length
      ? {
          says:
            blind.length === 1
              ? "A picture says nothing to those who can’t see"
              : `${blind.length} pictures say nothing to those who can’t see`,
          good: false,
          by: blind.map((b) => ({ says: line(b), mend: { block: b.id } })),
        }
      : null,
    as === "page"
      ? {
          says: clear ? "Found by what it says" : "Says too little of itself where it is found",
          good: clear,
          by: [
            { says: `Title of ${title} letters; up to ${longTitle} are shown.`, mend: { page: true } },
            { says: `Description of ${said} letters; up to ${longAbout} are shown.`, mend: { page: true } },
          ],
        }
      : null,
  ]
  return measures.filter((m) => m !== null)
}
