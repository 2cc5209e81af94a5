// Whose mention counts for a sale: from the whole chain of mentions, by a rule that fits in a sentence. Last mention within
// thirty days is common practice; a coupon that was typed says more than a link that was opened.

export type Mention = {
  readonly affiliate: number
  readonly kind: "link" | "coupon"
  /** Instant, ms. */
  readonly at: number
  readonly sub: string
}

export type AttributionRule = {
  /** For how many days a mention counts. */
  readonly days: number
  readonly which: "last" | "first"
}

/** Why nobody is paid for a mention, whenever it was. */
export type Bar = "own" | "not-in" | "ended" | "programme-off"

export type MentionVerdict = "counts" | "older" | "earlier" | "later" | "coupon-first" | "after" | Bar

export type Judged = Mention & { readonly verdict: MentionVerdict }

/** The whole chain, oldest first, each with what came of it; at most one counts. */
export type Attribution = {
  readonly at: number
  readonly rule: AttributionRule
  readonly chain: readonly Judged[]
}

/** How many mentions of a chain are kept, the latest. */
export const longestChain = 100

const day = 86_400_000

/**
 * @param at instant of the sale, ms
 * @param barOf why an affiliate can't be paid for this sale; null where nothing is in the way
 */
export function attribute(
  mentions: readonly Mention[],
  rule: AttributionRule,
  at: number,
  barOf: (affiliate: number) => Bar | null,
): Attribution {
  const chain = [...mentions].sort((a, b) => a.at - b.at || a.affiliate - b.affiliate || (a.sub < b.sub ? -1 : 1))
  const bars = new Map([...new Set(chain.map((m) => m.affiliate))].map((a) => [a, barOf(a)]))
  const first = (m: Mention): MentionVerdict | null =>
    bars.get(m.affiliate) ?? (m.at > at ? "after" : at - m.at > rule.days * day ? "older" : null)
  const open = chain.filter((m) => first(m) === null)
  const coupons = open.filter((m) => m.kind === "coupon")
  const among = coupons.length ? coupons : open
  const wins = rule.which === "last" ? among.at(-1) : among[0]
  const judged = chain.map((m): Judged => {
    const barred = first(m)
    if (barred) return { ...m, verdict: barred }
    if (m === wins) return { ...m, verdict: "counts" }
    if (coupons.length && m.kind === "link") return { ...m, verdict: "coupon-first" }
    return { ...m, verdict: rule.which === "last" ? "earlier" : "later" }
  })
  return { at, rule, chain: judged.slice(-longestChain) }
}

/** The mention that counts, or null. */
export function mentionCounts(d: Attribution): Judged | null {
  return d.chain.find((m) => m.verdict === "counts") ?? null
}
