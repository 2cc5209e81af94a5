// Imprint, privacy and terms: where they stand, how they look, and what can be said in them from what is really set.
import { type Html, html, raw } from "../html"
import { dateIn } from "../words/moment"
import { headClose, headOpen, type SchoolSeen, schoolHead } from "./frame"
import { styleSheet } from "./style"

export const legalKinds = ["imprint", "privacy", "terms"] as const
export type LegalKind = (typeof legalKinds)[number]

export const legalNames: Readonly<Record<LegalKind, string>> = {
  imprint: "Imprint",
  privacy: "Privacy",
  terms: "Terms",
}

/** Links to those that are shown, for the foot of every page. */
export const legalLinks = (shown: readonly LegalKind[] = []): Html[] =>
  shown.map((kind) => html` · <a href="/${kind}">${legalNames[kind]}</a>`)

/** What a school has set, as far as these pages speak of it. */
export type LegalFacts = {
  readonly name: string
  readonly postalAddress: string
  readonly email: string
  readonly currency: string
  readonly taxIncluded: boolean
  /** Hundredths of a percent. */
  readonly taxRate: number
  readonly statement: string
  /** Days within which the money is given back, by offer; null: nothing is promised. */
  readonly refunds: readonly { readonly name: string; readonly days: number | null }[]
  readonly sells: boolean
  /** The host of the card processor; null: none is connected. */
  readonly processor: string | null
  readonly meetings: string | null
  /** How long a recommendation is remembered, days; null: there is no programme. */
  readonly mentionDays: number | null
  readonly webinars: boolean
}

const heading = (text: string) => html`<h2>${text}</h2>`
const par = (text: string) => html`<p>${text}</p>`

/** A beginning of one, as sanitised HTML: only what is so. What the law wants besides, the school writes itself. */
export function legalSkeleton(kind: LegalKind, f: LegalFacts): string {
  const parts = { imprint: imprint(f), privacy: privacy(f), terms: terms(f) }[kind]
  return html`${parts}`.text
}

const reached = (f: LegalFacts) => [
  f.postalAddress ? par(`${f.name}, ${f.postalAddress}`) : par(f.name),
  f.email ? par(`E-mail: ${f.email}`) : "",
]

function imprint(f: LegalFacts): (Html | string)[] {
  return [heading("Who runs this school"), ...reached(f)]
}

function privacy(f: LegalFacts): (Html | string)[] {
  return [
    heading("Who is responsible"),
    ...reached(f),
    heading("What is kept, and why"),
    par(
      "When you sign up, buy, or are let into a course: your e-mail address, your name if you give it, what you agreed to and when, and what you have opened and done in your courses. It is needed to give you what you asked for.",
    ),
    f.sells
      ? par(
          `When you buy: what you bought, what you paid and when, for as long as the books have to be kept.${f.processor ? ` Your card’s number goes to ${f.processor} alone and is never kept here.` : ""}`,
        )
      : "",
    f.webinars
      ? par(
          `When you come to a webinar: when you came and left, and what you wrote or answered there.${f.meetings ? ` Its picture and sound come from ${f.meetings}.` : ""}`,
        )
      : "",
    heading("Cookies"),
    par(
      "A cookie by which a page knows your browser again, so that a visit is counted once; one by which you stay signed in; one that remembers an order until you have come back from paying. None is another company’s, and nothing is loaded from elsewhere unless a page says so and you press it.",
    ),
    f.mentionDays !== null
      ? par(
          `If you come by somebody’s recommendation, that is remembered for ${f.mentionDays} days, so that they are paid for it.`,
        )
      : "",
    heading("E-mails"),
    par(
      "You are written to when you have agreed to it by a press in your own mailbox, and about what you bought. Every such e-mail has a link by which you leave. A press on a link in it is counted.",
    ),
    heading("What you can ask for"),
    par(
      "You can see what is kept of you, have it put right, take it with you as a file, or have it removed. Write to the address above.",
    ),
  ]
}

function terms(f: LegalFacts): (Html | string)[] {
  const promised = f.refunds.filter((r) => r.days !== null)
  return [
    heading("Who you buy from"),
    ...reached(f),
    f.sells ? heading("Prices and payment") : "",
    f.sells
      ? par(
          `Prices are in ${f.currency}${f.taxRate > 0 ? `, ${f.taxIncluded ? "with" : "without"} ${f.taxRate / 100} % tax${f.taxIncluded ? " included" : ", which is added at the checkout"}` : ""}. What you pay, when and how often stands at the button, whole, before you press it.${f.statement ? ` Your card’s statement shows “${f.statement}”.` : ""}`,
        )
      : "",
    heading("What you get"),
    par(
      "Access to what stands on the page where you signed up or bought, for as long as it says there. It is for you alone.",
    ),
    f.sells ? heading("Refunds") : "",
    f.sells && promised.length
      ? html`<ul>${promised.map((r) => html`<li>${r.name}: within ${r.days} ${r.days === 1 ? "day" : "days"} you get your money back.</li>`)}</ul>`
      : "",
    f.sells && promised.length < f.refunds.length
      ? par(
          promised.length
            ? "For other offers no refund is promised here beyond what the law gives you."
            : "No refund is promised here beyond what the law gives you.",
        )
      : "",
    f.sells && promised.length ? par("A refund ends the access that was bought.") : "",
  ]
}

/** What a skeleton would say more, if it were set. */
export function legalLacks(f: LegalFacts): string[] {
  return [
    ...(f.postalAddress ? [] : ["There is no postal address yet: it stands under School."]),
    ...(f.email ? [] : ["There is no sender’s address yet: it stands under School."]),
  ]
}

/** The page that visitors read. `shown`: sanitised HTML; `at`: when it was put up, ms. */
export function legalPage(
  kind: LegalKind,
  shown: string,
  at: number,
  zone: string,
  school: SchoolSeen,
): { html: string; style: string } {
  const style = styleSheet(school.look, { own: ["main h2{font-size:1.5rem;margin-block:2rem .6rem}"] })
  const whole = html`${headOpen(`${legalNames[kind]} · ${school.name}`)}${headClose(school, style)}${schoolHead(school)}<main><h1>${legalNames[kind]}</h1><div dir="auto">${raw(shown)}</div><p class="small">${dateIn(at, zone)}</p></main><footer dir="auto">${school.name}${legalLinks(school.legal)}</footer></body></html>`
  return { html: whole.text, style }
}
