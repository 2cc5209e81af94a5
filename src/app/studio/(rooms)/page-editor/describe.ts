import { blockKinds } from "@/core/page/block/list"
import { leastContrast } from "@/core/page/contrast"
import { allBlocks, type Page } from "@/core/page/document"
import type { Look } from "@/core/page/style"

/**
 * The line that says how a page does: its one action, whether it leads off, its weight, contrast, reading time, pictures.
 * `weight` is in bytes, compressed; null while it isn't known.
 */
export function describe(
  page: Page,
  html: string,
  weight: number | null,
  look: Look,
): { value: string; says: string; good: boolean }[] {
  const blocks = [...allBlocks(page.blocks)]
  const actions = blocks.flatMap((b) => blockKinds[b.kind].action?.(b) ?? [])
  const kinds = new Set(actions)
  const off = (html.match(/<a href="https?:/g) ?? []).length
  const words = html
    .replace(/<style>.*?<\/style>/s, "")
    .replace(/<[^>]*>/g, " ")
    .split(/\s+/).length
  const least = leastContrast(look)
  const blind = blocks.filter((b) => blockKinds[b.kind].blind?.(b)).length
  const times =
    ["", "", ", twice", ", three times"][actions.length] ?? (actions.length > 3 ? `, ${actions.length} times` : "")
  return [
    {
      value: String(kinds.size),
      says: `${kinds.size === 1 ? "action" : "actions"}${kinds.size === 1 ? times : ""}`,
      good: kinds.size <= 1,
    },
    {
      value: off === 0 ? "no" : String(off),
      says: off === 1 ? "way off" : off === 0 ? "way off" : "ways off",
      good: off === 0,
    },
    ...(weight === null
      ? []
      : [{ value: `${(weight / 1024).toFixed(1)} KB`, says: "of 14", good: weight <= 14 * 1024 }]),
    { value: `${least.toFixed(1)} : 1`, says: "least contrast", good: least >= 4.5 },
    { value: `${Math.max(1, Math.round(words / 220))} min`, says: "to read", good: true },
    ...(blind
      ? [
          {
            value: `${blind}`,
            says: `${blind === 1 ? "picture" : "pictures"} without words for those who can't see`,
            good: false,
          },
        ]
      : []),
  ]
}
