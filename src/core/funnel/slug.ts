// The part of an address that a name becomes.

/** First parts of an address that are ours and cannot be a page's. */
export const reserved = [
  "studio",
  "studio-in",
  "learn",
  "affiliate",
  "by",
  "via",
  "bank",
  "media",
  "previews",
  "fonts",
  "go",
  "confirm",
  "way-in",
  "confirm-address",
  "mails",
  "mail.gif",
  "order",
  "room",
  "calendar",
  "get",
  "hooks",
  "standins",
  "healthz",
  "favicon.ico",
  "icon.svg",
  "_next",
  "imprint",
  "privacy",
  "terms",
  "robots.txt",
  "sitemap.xml",
]

/** Lower-case ASCII letters, digits and hyphens, at most 60 characters; the fallback where nothing is left. */
export function slugOf(name: string, fallback = "page"): string {
  const plain = name
    .normalize("NFKD")
    .replace(/\p{M}/gu, "")
    .replace(/ß/g, "ss")
    .replace(/[æÆ]/g, "ae")
    .replace(/[øØ]/g, "o")
    .replace(/[œŒ]/g, "oe")
    .replace(/[łŁ]/g, "l")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 60)
    .replace(/-+$/, "")
  return plain || fallback
}

/** The name, or the name with the first number from 2 that is free. */
export function freeSlug(wanted: string, taken: ReadonlySet<string>): string {
  if (!taken.has(wanted)) return wanted
  let n = 2
  while (taken.has(`${wanted}-${n}`)) n++
  return `${wanted}-${n}`
}

/** Whether an address can stand: one to four parts of letters, digits and hyphens, and the first not one of ours. */
export function isPath(path: string): boolean {
  return path.length <= 160 && /^[a-z0-9-]+(\/[a-z0-9-]+){0,3}$/.test(path) && !reserved.includes(path.split("/")[0]!)
}
