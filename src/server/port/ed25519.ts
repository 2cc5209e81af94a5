// A second signature of mail, by Ed25519 (RFC 8463): smaller than RSA's, and made here because nodemailer signs with RSA alone.
// Canonicalisation is "relaxed" for headers and body (RFC 6376, 3.4).
import { createHash, sign } from "node:crypto"
import type { DkimKey } from "./mailer"

/** What is signed where it is there: what readers see, and the one click that unsubscribes (RFC 8058 asks for it). */
export const signedFields = [
  "from",
  "to",
  "subject",
  "date",
  "message-id",
  "reply-to",
  "mime-version",
  "content-type",
  "content-transfer-encoding",
  "list-id",
  "list-unsubscribe",
  "list-unsubscribe-post",
]

/** RFC 6376, 3.4.2: the name small, folds and runs of blanks one blank. */
export const relaxedField = (field: string) => {
  const at = field.indexOf(":")
  const value = field
    .slice(at + 1)
    .replace(/\r\n/g, "")
    .replace(/[ \t]+/g, " ")
    .trim()
  return `${field.slice(0, at).trim().toLowerCase()}:${value}`
}

/** RFC 6376, 3.4.4: no blanks at the end of lines, runs of them one blank, no empty lines at the end. */
export function relaxedBody(body: string): string {
  const lines = body.replace(/[ \t]+/g, " ").replace(/ (?=\r\n|$)/g, "")
  const text = lines.replace(/(?:\r\n)+$/, "")
  return text ? `${text}\r\n` : ""
}

/**
 * The header of a signature, with its line break, to be put before a message. `raw` is the message as it is sent, lines ended by
 * CR LF; `at` the second of signing.
 */
export function ed25519Signature(raw: Buffer, key: DkimKey, at: number): string {
  // Bytes as they are: what is hashed must be what is sent.
  const text = raw.toString("latin1")
  const middle = text.indexOf("\r\n\r\n")
  const fields = text.slice(0, middle).split(/\r\n(?![ \t])/)
  const bodyHash = createHash("sha256")
    .update(relaxedBody(text.slice(middle + 4)), "latin1")
    .digest("base64")
  const signed = signedFields.flatMap((name) => {
    const field = fields.findLast((f) => f.slice(0, f.indexOf(":")).trim().toLowerCase() === name)
    return field === undefined ? [] : [{ name, field }]
  })
  const unsigned =
    `DKIM-Signature: v=1; a=ed25519-sha256; c=relaxed/relaxed; d=${key.domainName}; s=${key.keySelector};\r\n` +
    ` t=${Math.floor(at / 1000)}; h=${signed.map((s) => s.name).join(":")};\r\n bh=${bodyHash};\r\n b=`
  const data = [...signed.map((s) => relaxedField(s.field)), relaxedField(unsigned)].join("\r\n")
  // RFC 8463, 3: the hash is signed.
  const signature = sign(null, createHash("sha256").update(data, "latin1").digest(), key.privateKey).toString("base64")
  return `${unsigned}${signature}\r\n`
}
