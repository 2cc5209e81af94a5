// What is said of affiliates, whose mention counted, and payouts.

import { moneyText } from "../offer/money"
import { rateText } from "../offer/tax"
import { locale } from "../words/locale"
import type { Attribution, AttributionRule, Judged } from "./attribution"
import { mentionCounts } from "./attribution"
import type { IbanTrouble } from "./iban"
import type { Obstacle } from "./payout"
import type { ProgrammeTerms, Rate } from "./programme"

const dayOf = (at: number, zone: string) =>
  new Intl.DateTimeFormat(locale, { day: "numeric", month: "long", year: "numeric", timeZone: zone }).format(at)

const days = (n: number) => (n === 1 ? "1 day" : `${n} days`)

/** Whole days between two instants, ms. */
const between = (from: number, to: number) => Math.floor((to - from) / 86_400_000)

export type NameOfAffiliate = (affiliate: number) => string

const mentionText = (m: Judged, name: NameOfAffiliate, zone: string) =>
  m.kind === "coupon"
    ? `the coupon of ${name(m.affiliate)}`
    : `the link of ${name(m.affiliate)} on ${dayOf(m.at, zone)}`

function why(m: Judged, d: Attribution, name: NameOfAffiliate, zone: string): string {
  const it = mentionText(m, name, zone)
  const said = it.charAt(0).toUpperCase() + it.slice(1)
  switch (m.verdict) {
    case "counts":
      return `${said} counts.`
    case "older":
      return `${said} was older than ${days(d.rule.days)}.`
    case "earlier":
      return `${said} came before it, and the last one counts.`
    case "later":
      return `${said} came after it, and the first one counts.`
    case "coupon-first":
      return `${said} gives way to the coupon.`
    case "after":
      return `${said} came only afterwards.`
    case "own":
      return `${said} was their own purchase.`
    case "not-in":
      return `${said} is left out: ${name(m.affiliate)} does not take part in this programme.`
    case "ended":
      return `${said} is left out: ${name(m.affiliate)} was no affiliate then.`
    case "programme-off":
      return `${said} is left out: the programme was off.`
  }
}

/** The sentence by which a sale explains itself: whose it is, and why nobody else's. */
export function decisionText(d: Attribution, name: NameOfAffiliate, zone: string): string {
  if (!d.chain.length) return "Nobody recommended it."
  const wins = mentionCounts(d)
  // One of each other affiliate, the latest: the whole chain stands below.
  const others = [...new Map(d.chain.filter((m) => m !== wins).map((m) => [`${m.affiliate}:${m.verdict}`, m])).values()]
    .filter((m) => m.affiliate !== wins?.affiliate)
    .reverse()
  const rest = others.slice(0, 3).map((m) => why(m, d, name, zone))
  if (!wins) return ["Counted for nobody.", ...rest].join(" ")
  const ago = between(wins.at, d.at)
  const how =
    wins.kind === "coupon"
      ? "their coupon was used"
      : `link on ${dayOf(wins.at, zone)}, ${ago === 0 ? "on the same day" : `${days(ago)} before`}${wins.sub ? `, given out at “${wins.sub}”` : ""}`
  return [`Counted for ${name(wins.affiliate)}: ${how}.`, ...rest].join(" ")
}

/** What became of one mention, in a few words. */
export function verdictText(m: Judged, rule: AttributionRule): string {
  return {
    counts: "counted",
    older: `older than ${days(rule.days)}`,
    earlier: "a later one counted",
    later: "an earlier one counted",
    "coupon-first": "a coupon counted before it",
    after: "after the purchase",
    own: "their own purchase",
    "not-in": "not in this programme",
    ended: "no affiliate then",
    "programme-off": "the programme was off",
  }[m.verdict]
}

export function ruleText(rule: AttributionRule): string {
  return `The ${rule.which} link within ${days(rule.days)} counts, and a coupon before any link.`
}

export const rateWords = (rate: Rate, currency: string) =>
  rate.kind === "percent" ? rateText(rate.value) : moneyText(rate.value, currency)

/** What a programme pays, in a sentence. */
export function termsText(t: ProgrammeTerms, own: Rate | null, currency: string): string {
  const rate = own ?? t.rate
  const of =
    rate.kind === "percent"
      ? `${rateWords(rate, currency)} of what was paid, without tax${t.lessFees ? " and the card processor's fee" : ""}`
      : `${rateWords(rate, currency)} for each sale`
  const on =
    t.charges === null
      ? "with every charge"
      : t.charges === 1
        ? "on the first charge"
        : `on the first ${t.charges} charges`
  const more = [t.bumps ? "order bumps" : "", t.further ? "upsells" : ""].filter(Boolean).join(" and ")
  // A step that brings no more than the rate is none.
  const reached = t.steps.filter((s) => rate.kind !== "percent" || s.rate > rate.value)
  const steps = reached.map((s) => `${rateText(s.rate)} from the ${ordinal(s.from)} sale of a month`).join(", ")
  return `${of}, ${on}${more && rate.kind === "percent" ? `, also on ${more} of the same order` : ""}.${steps ? ` ${steps.charAt(0).toUpperCase()}${steps.slice(1)}.` : ""}`
}

export function ordinal(n: number): string {
  const tail = n % 100 > 10 && n % 100 < 14 ? "th" : (["th", "st", "nd", "rd"][n % 10] ?? "th")
  return `${n}${tail}`
}

export const obstacleText: Readonly<Record<Obstacle, string>> = {
  "no-bank": "no bank details",
  "not-approved": "not approved yet",
  "ended-nobody": "erased: nobody to pay",
  conditions: "has not agreed to the new conditions",
  "under-least": "less than the least amount",
  owes: "more was taken back than earned",
  "left-out": "every line was left out",
}

export const affiliateStates = {
  invited: "invited",
  asked: "wants to join",
  active: "active",
  ended: "ended",
} as const

export const ibanTroubles: Readonly<Record<IbanTrouble, string>> = {
  empty: "Type the number of your account (IBAN).",
  country: "No account numbers of this country are known. Check the first two letters.",
  length: "This number has too few or too many digits for its country.",
  digits: "This isn't an account number: its check digits don't fit. Check it once more.",
  form: "This isn't an account number (IBAN): it begins with two letters of a country.",
}
