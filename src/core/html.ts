// Text on its way into HTML.

const entities: Record<string, string> = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;" }

/** Escapes text for element content and for quoted attributes. */
export function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (c) => entities[c]!)
}

/** What stands in an attribute of ours, as text again. */
export function unescapeHtml(attribute: string): string {
  return attribute.replace(
    /&(amp|quot|#39|lt|gt);/g,
    (_, e: string) => ({ amp: "&", quot: '"', "#39": "'", lt: "<", gt: ">" })[e]!,
  )
}

/** Finished HTML. */
export class Html {
  constructor(readonly text: string) {}
  toString(): string {
    return this.text
  }
}

type Part = Html | string | number | false | null | undefined | readonly Part[]

/** A template of HTML: what is put into it is escaped, unless it is HTML itself; lists follow one another, nothing is nothing. */
export function html(strings: TemplateStringsArray, ...parts: readonly Part[]): Html {
  return new Html(strings.reduce((text, s, i) => text + written(parts[i - 1]) + s))
}

function written(part: Part): string {
  if (part instanceof Html) return part.text
  if (typeof part === "string") return escapeHtml(part)
  if (typeof part === "number") return String(part)
  return part ? part.map(written).join("") : ""
}

/** HTML that was written elsewhere: sanitised, or made by us. */
export const raw = (text: string) => new Html(text)
