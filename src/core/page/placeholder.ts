// Words that a draft leaves to be said: they show in the editor what belongs there, and are never published.

export const placeholders = {
  headline: "A new headline",
  text: "A few words.",
  firstPoint: "First point",
  secondPoint: "Second point",
  furtherOffer: "A few words on what it adds to what you just bought.",
  offer: "A few words on what it is.",
} as const

const all = new Set<string>(Object.values(placeholders))

/** Whether a text, plain or rich, still says only what a draft puts there; an empty one does, too. */
export function isPlaceholder(text: string): boolean {
  const plain = text
    .replace(/<[^>]*>/g, "")
    .replace(/&nbsp;/g, " ")
    .trim()
  return plain === "" || all.has(plain)
}
