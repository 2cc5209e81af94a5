// What was typed and isn't saved yet, kept in this browser until it is: for a tab that was killed, a line or a server that was away.
import { type Page, readPage } from "@/core/page/document"
import type { PageOf } from "@/server/page/version"

/** The page as it was typed, and as it was when last heard of. */
export type KeptHere = { readonly base: Page; readonly page: Page }

const nameOf = (of: PageOf) => `typed:${Object.entries(of).flat().join(":")}:`

/** What a window of a browser is known by, as long as it is open. */
export function thisWindow(): string {
  window.name ||= crypto.randomUUID()
  return window.name
}

/** Each window keeps its own, so that two never take each other's place. Where the browser has no room left, nothing is kept. */
export function keepHere(of: PageOf, kept: KeptHere): void {
  try {
    localStorage.setItem(nameOf(of) + thisWindow(), JSON.stringify(kept))
  } catch {}
}

export function letGo(of: PageOf): void {
  try {
    localStorage.removeItem(nameOf(of) + thisWindow())
  } catch {}
}

/** Takes out what any window of this browser has kept of a page; what can't be read is left out. */
export function takeKept(of: PageOf): KeptHere[] {
  try {
    const names = Object.keys(localStorage).filter((n) => n.startsWith(nameOf(of)))
    return names.flatMap((name) => {
      const text = localStorage.getItem(name)
      localStorage.removeItem(name)
      try {
        const { base, page } = JSON.parse(text ?? "") as Record<keyof KeptHere, unknown>
        return [{ base: readPage(base), page: readPage(page) }]
      } catch {
        return []
      }
    })
  } catch {
    return []
  }
}
