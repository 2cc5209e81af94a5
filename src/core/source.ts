// Where a visitor came from, told from the address they opened and the page that led them there.

/** The most characters a source's name may have. */
export const longestSource = 60

/**
 * A short name for the source: `utm_source` where the link carries one (with `utm_campaign` behind a dot), or `src` or `ref`,
 * otherwise the host that referred, otherwise "direct". Never longer than 60 characters, printable, and never empty.
 * The names are common practice.
 */
export function sourceOf(query: URLSearchParams, referrer: string, ownHost: string): string {
  const given = query.get("utm_source") || query.get("src") || query.get("ref") || ""
  if (!referrer && !given) return "direct"
  // What begins with @ is an affiliate's, and no link says it of itself.
  const named = tidySource(given).replace(/^@+/, "")
  if (named) {
    const campaign = tidySource(query.get("utm_campaign") ?? "")
    return (campaign ? `${named} · ${campaign}` : named).slice(0, longestSource)
  }
  try {
    const { host, protocol } = new URL(referrer)
    if (protocol.startsWith("http") && host && host !== ownHost)
      return tidySource(host.replace(/^www\./, "")) || "direct"
  } catch {
    // no referrer, or not an address
  }
  return "direct"
}

/** The part of an address that says a source, which `sourceOf` reads back as the name that is counted. */
export function sourceQuery(source: string, campaign: string): string {
  const query = new URLSearchParams({ utm_source: source })
  if (campaign) query.set("utm_campaign", campaign)
  return `?${query}`
}

/** The name of a source as it may be kept: printable, on one line, at most 60 characters. */
export function tidySource(typed: string): string {
  return typed
    .normalize("NFC")
    .replace(/[\p{Cc}\p{Cf}\p{Zl}\p{Zp}]/gu, "")
    .replace(/\s+/g, " ")
    .trim()
    .slice(0, longestSource)
}
/** How a journey's source says that it began by a link of an affiliate. No source that comes from outside begins like it. */
export const sourceMark = "@"
export const sourceOfVia = (code: string) => `${sourceMark}${code}`
export const codeOfSource = (source: string) => (source.startsWith(sourceMark) ? source.slice(1) : null)
