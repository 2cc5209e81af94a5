// Short texts under our signature: links that carry an id and cannot be made up by anyone else.
import { createHmac, timingSafeEqual } from "node:crypto"

/** What a signature is for; one made for one thing never counts for another. */
export type Purpose =
  | "confirm"
  | "way-in"
  | "click"
  | "open"
  | "bounce"
  | "inbound"
  | "leave"
  | "media"
  | "asked"
  | "studio"
  | "invitation"
  | "address"
  | "room"
  | "seat"
  | "meeting"
  | "seated"
  | "feed"
  | "via"
  | "bank"
  | "recommend"

function mac(secret: string, purpose: Purpose, text: string): Buffer {
  return createHmac("sha256", secret).update(`${purpose}\n${text}`).digest().subarray(0, 20)
}

/** `text.signature`, safe in an address where the text is. 160 bits of HMAC-SHA-256 (RFC 2104). */
export function sign(secret: string, purpose: Purpose, text: string): string {
  return `${text}.${mac(secret, purpose, text).toString("base64url")}`
}

/** The text where the signature is ours, otherwise null. */
export function verify(secret: string, purpose: Purpose, token: string): string | null {
  const dot = token.lastIndexOf(".")
  if (dot < 1 || token.length > 300) return null
  const text = token.slice(0, dot)
  const given = Buffer.from(token.slice(dot + 1), "base64url")
  const right = mac(secret, purpose, text)
  return given.length === right.length && timingSafeEqual(given, right) ? text : null
}

/** The same for an id where small and capital letters may be confused, such as in an address: `12-0f3a…`. */
export function signLower(secret: string, purpose: Purpose, id: number): string {
  return `${id}-${mac(secret, purpose, String(id)).toString("hex").slice(0, 20)}`
}

/** The id in such a token, or null. 80 bits of HMAC-SHA-256. */
export function verifyLower(secret: string, purpose: Purpose, token: string): number | null {
  const found = /^([1-9]\d{0,9})-([0-9a-f]{20})$/.exec(token.toLowerCase())
  if (!found) return null
  const id = Number(found[1])
  return sameText(signLower(secret, purpose, id), `${id}-${found[2]}`) ? id : null
}

/** The id in a signed token, or null. */
export function verifyId(secret: string, purpose: Purpose, token: string): number | null {
  const text = verify(secret, purpose, token)
  return text !== null && /^[1-9]\d{0,9}$/.test(text) ? Number(text) : null
}

/** Whether two texts are the same, in a time that doesn't say where they differ. */
export function sameText(a: string, b: string): boolean {
  const [x, y] = [Buffer.from(a), Buffer.from(b)]
  return x.length === y.length && timingSafeEqual(x, y)
}
