// Security headers: what a browser may do with what we answer.
import { createHash } from "node:crypto"

const hash = (text: string) => `'sha256-${createHash("sha256").update(text).digest("base64")}'`

/**
 * For published and plain pages: their one style sheet and their one script, by hash, and nothing else; at a checkout also
 * the card processor's fields, and its page of the bank where a form may lead. `films`: whence else a video comes; `frames`: hosts of which
 * something is shown once a visitor asks for it.
 */
export function pagePolicy(
  style: string,
  script: string,
  cards = "",
  films = "",
  frames: readonly string[] = [],
): string {
  return [
    "default-src 'none'",
    `style-src ${hash(style)}`,
    ...(script ? [`script-src ${hash(script)}`] : []),
    "img-src 'self' data:",
    `media-src 'self'${films ? ` ${films}` : ""}`,
    "font-src 'self'",
    ...(cards ? ["connect-src 'self'"] : []),
    ...(cards || frames.length
      ? [`frame-src ${[cards, ...frames.map((f) => `https://${f}`)].filter(Boolean).join(" ")}`]
      : []),
    `form-action 'self'${cards ? ` ${cards}` : ""}`,
    "base-uri 'none'",
    "frame-ancestors 'none'",
  ].join("; ")
}

/**
 * For what Next answers: scripts by nonce; the card processor's fields may be framed. Styles may stand inline, for Radix and the
 * editors set positions so. What a lesson shows of another site may be framed in the learning area, by https.
 */
export function appPolicy(nonce: string, cards = "", others = false): string {
  return [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'`,
    "worker-src 'self'",
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "media-src 'self' blob:",
    "font-src 'self'",
    "connect-src 'self'",
    `frame-src 'self'${cards ? ` ${cards}` : ""}${others ? " https:" : ""}`,
    "form-action 'self'",
    "base-uri 'none'",
    "object-src 'none'",
    "frame-ancestors 'self'",
  ].join("; ")
}

export const commonHeaders = {
  "x-content-type-options": "nosniff",
  "referrer-policy": "strict-origin-when-cross-origin",
  "cross-origin-opener-policy": "same-origin",
}
