// What mail servers report of messages that were sent: that they could not be delivered (RFC 3464), or that their reader complained
// (RFC 5965). Both are lists of fields as in a mail's head.

export type Fields = Readonly<Record<string, string>>

/** The groups of fields of a report's machine-readable part, names in small letters; folded lines are put together. */
export function readFields(text: string): Fields[] {
  return text
    .replace(/\r\n?/g, "\n")
    .split(/\n(?:[ \t]*\n)+/)
    .map((group) =>
      Object.fromEntries(
        group
          .replace(/\n[ \t]+/g, " ")
          .split("\n")
          .flatMap((line) => {
            const colon = line.indexOf(":")
            return colon < 1 ? [] : [[line.slice(0, colon).trim().toLowerCase(), line.slice(colon + 1).trim()] as const]
          }),
      ),
    )
    .filter((g) => Object.keys(g).length > 0)
}

export type Bounce = {
  /** The address that was written to. */
  readonly recipient: string
  /** Enhanced status code (RFC 3463), such as 5.1.1. */
  readonly status: string
  /** For good, or for now. */
  readonly hard: boolean
  readonly says: string
}

/** `rfc822; somebody@x.example` and the like: what stands behind the kind of address or code. */
const behindType = (value: string) => value.replace(/^[^;]*;\s*/, "").trim()

/**
 * Who could not be reached, by a message/delivery-status part. Whoever got it after all, or may still, is left out: only
 * `failed` counts (RFC 3464, 2.3.3). A status of 5.y.z is for good, 4.y.z for now (RFC 3463, 2): a mailbox that is full
 * (x.2.2) may be emptied, so that is for now also where a server says 5.
 */
export function readBounces(text: string): Bounce[] {
  const [, ...recipients] = readFields(text)
  return recipients.flatMap((r): Bounce[] => {
    if (r.action?.toLowerCase() !== "failed") return []
    const status = /[245]\.\d{1,3}\.\d{1,3}/.exec(r.status ?? "")?.[0] ?? ""
    const recipient = behindType(r["original-recipient"] ?? r["final-recipient"] ?? "")
    if (!recipient) return []
    return [
      {
        recipient,
        status,
        hard: status.startsWith("5") && !status.endsWith(".2.2"),
        says: behindType(r["diagnostic-code"] ?? "") || status,
      },
    ]
  })
}

export type Complaint = { readonly kind: string; readonly recipient: string | null }

/** Who complained, by a message/feedback-report part; null where it is about something else (RFC 5965, 7.3). */
export function readComplaint(text: string): Complaint | null {
  const fields = readFields(text)[0] ?? {}
  const kind = fields["feedback-type"]?.toLowerCase()
  if (!kind || !["abuse", "fraud", "opt-out"].includes(kind)) return null
  return { kind, recipient: fields["original-rcpt-to"]?.replace(/[<>]/g, "") ?? null }
}

/** Soft bounces after which an address counts as not to be reached (common practice). */
export const softUntilHard = 3
