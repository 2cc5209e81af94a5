// What must stand in the name system so that receivers believe that a domain's mail is the domain's: who may send (SPF, RFC 7208),
// the key that signatures are checked with (DKIM, RFC 6376 and 8463), and what to do with the rest (DMARC, RFC 7489).

export type RecordKind = "spf" | "dkim" | "dmarc"

export type Wanted = { readonly kind: RecordKind; readonly name: string; readonly value: string }

export type RecordState =
  | "well"
  | "missing"
  /** There are two, of which receivers take neither. */
  | "twice"
  /** It is there, and says something else. */
  | "other"
  /** The name system gave no answer. */
  | "no-answer"

/** The public key as a record has it. `key`: base64 of what stands between the lines of a PEM (SubjectPublicKeyInfo). */
export function dkimRecord(algorithm: "rsa" | "ed25519", key: string): string {
  return `v=DKIM1; k=${algorithm}; p=${key}`
}

/**
 * The records that a domain wants.
 *
 * @param include what the mail provider says is to be included in SPF, or an address such as `ip4:192.0.2.1`; empty: nothing
 */
export function wantedRecords(
  domain: string,
  keys: readonly { readonly selector: string; readonly algorithm: "rsa" | "ed25519"; readonly key: string }[],
  include: string,
): Wanted[] {
  const allows = include ? `${include.includes(":") ? include : `include:${include}`} ` : ""
  return [
    { kind: "spf", name: domain, value: `v=spf1 ${allows}~all` },
    ...keys.map(
      (k): Wanted => ({
        kind: "dkim",
        name: `${k.selector}._domainkey.${domain}`,
        value: dkimRecord(k.algorithm, k.key),
      }),
    ),
    { kind: "dmarc", name: `_dmarc.${domain}`, value: "v=DMARC1; p=none" },
  ]
}

const tags = (record: string): ReadonlyMap<string, string> =>
  new Map(
    record.split(";").flatMap((part) => {
      const at = part.indexOf("=")
      return at < 1 ? [] : [[part.slice(0, at).trim().toLowerCase(), part.slice(at + 1).replace(/\s+/g, "")] as const]
    }),
  )

/** How what was found stands to what is wanted. `found`: the texts at that name, each put together; null: no answer. */
export function recordState(wanted: Wanted, found: readonly string[] | null): RecordState {
  if (found === null) return "no-answer"
  const start = { spf: /^v=spf1(?: |$)/i, dkim: /(?:^|;)\s*(?:v=DKIM1|p=)/i, dmarc: /^v=DMARC1\s*;/i }[wanted.kind]
  const ours = found.filter((r) => start.test(r.trim()))
  if (ours.length === 0) return "missing"
  if (ours.length > 1) return "twice"
  const [record] = ours as [string]
  switch (wanted.kind) {
    case "spf": {
      const need = wanted.value.toLowerCase().split(/\s+/).slice(1, -1)
      // RFC 7208, 5.1: what stands behind “all” is never looked at; one that lets everybody send says nothing. A mechanism
      // without a sign passes, as one with a plus does (4.6.2); with any other it turns the sender away.
      const terms = record.toLowerCase().split(/\s+/)
      const all = terms.findIndex((x) => /^[+\-~?]?all$/.test(x))
      if (all >= 0 && /^\+?all$/.test(terms[all]!)) return "other"
      const has = (all < 0 ? terms : terms.slice(0, all)).map((x) => x.replace(/^\+/, ""))
      return need.every((x) => has.includes(x)) ? "well" : "other"
    }
    case "dkim":
      return tags(record).get("p") === tags(wanted.value).get("p") ? "well" : "other"
    case "dmarc":
      return ["none", "quarantine", "reject"].includes(tags(record).get("p")?.toLowerCase() ?? "") ? "well" : "other"
  }
}
