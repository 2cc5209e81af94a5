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
