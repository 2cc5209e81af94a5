// What a page says of itself to search engines and previews of links: in words, and as data (schema.org).
import type { DataAbout } from "./block/kind"
import { blockKinds } from "./block/list"
import type { Page } from "./document"
import { allBlocks } from "./walk"

/** What it is about, at most 300 letters: as it was written, or its first text, cut at a word. */
export function describedAs(page: Page): string {
  const own = page.description?.trim()
  if (own) return own
  const first = [...allBlocks(page.blocks)].find(
    (b) => blockKinds[b.kind].inFirst === "words" && blockKinds[b.kind].text,
  )
  const plain = (first && blockKinds[first.kind].text?.(first))?.replace(/\s+/g, " ").trim() ?? ""
  return plain.length <= 200 ? plain : `${plain.slice(0, 200).replace(/\s+\S*$/, "")} …`
}

/** What stands on the page as data, and nothing else. */
export function structured(page: Page, about: DataAbout): object[] {
  return [...allBlocks(page.blocks)].flatMap((b) => {
    const data = blockKinds[b.kind].data?.(b, about)
    return data ? [{ "@context": "https://schema.org", ...data }] : []
  })
}
