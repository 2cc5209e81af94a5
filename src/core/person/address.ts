// An e-mail address: what was typed, and the key under which it is the same address again.

export type Address = {
  /** As typed, trimmed. At most 254 characters. */
  readonly email: string
  /** Lower case, NFC, the domain as IDNA ASCII: equal exactly when two spellings mean one mailbox (common practice). */
  readonly canonical: string
}

/**
 * The mailbox that a canonical address leads to: without what stands behind a plus sign (RFC 5233, common practice). For
 * counting what a person may have once; never for telling people apart.
 */
export function mailboxOf(canonical: string): string {
  const at = canonical.lastIndexOf("@")
  return `${canonical.slice(0, at).split("+", 1)[0]}${canonical.slice(at)}`
}

// RFC 5322 3.2.3 atext, widened by RFC 6531 to everything outside ASCII that is neither space nor control.
const atom = /^[A-Za-z0-9!#$%&'*+/=?^_`{|}~\-\u00A1-\uD7FF\uE000-\uFFEF\u{10000}-\u{10FFFF}]+$/u
const label = /^[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?$/

/**
 * Reads an address of the dot-atom form (RFC 5321 4.1.2 without quoted local parts, address literals and comments,
 * which no mailbox of a reader uses). Returns null for anything else: longer than 254 characters or 64 before the @
 * (RFC 5321 4.5.3.1), with white space, a control character or a line break inside, or without a dot in the domain.
 */
export function parseAddress(typed: string): Address | null {
  const email = typed.trim().normalize("NFC")
  if (email.length > 254 || /[\s\p{Cc}\p{Cf}]/u.test(email)) return null
  const at = email.lastIndexOf("@")
  const local = email.slice(0, at)
  if (at < 1 || local.length > 64 || !local.split(".").every((part) => atom.test(part))) return null
  const domain = asciiDomain(email.slice(at + 1))
  if (!domain) return null
  return { email, canonical: `${local.toLowerCase()}@${domain}` }
}

/** The domain in lower-case ASCII (UTS 46), or null where it is not a name with at least two labels. */
function asciiDomain(domain: string): string | null {
  if (domain === "" || /[^\p{L}\p{N}\p{M}.-]/u.test(domain)) return null
  let host: string
  try {
    host = new URL(`http://${domain}`).hostname
  } catch {
    return null
  }
  const labels = host.split(".")
  if (labels.length < 2 || host.length > 253 || !labels.every((l) => label.test(l))) return null
  return /^\d+$/.test(labels.at(-1) ?? "") ? null : host
}
