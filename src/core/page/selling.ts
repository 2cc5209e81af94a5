// The parts of a page that sell: prices, the checkout's form, a further offer's yes and no, the proof that it worked. Each
// takes what the server worked out and gives HTML; amounts come in finished words from the plan.

import type { Product, WithContext } from "schema-dts"
import { type Html, html } from "../html"
import { words } from "../words/en"
import { dataTag } from "./data"
import { type Picture, pictureTag } from "./picture"
import { amountCss, formCss, wayCss } from "./style"

const more = "details{margin:0 0 1.25rem}summary{cursor:pointer}"

export const priceCss = `.price{margin-block:2rem}.price>p{margin:0 0 .75rem}.price>p strong{font:var(--wd) 1.35rem/1.2 var(--fd)}.price>img{max-height:24rem;width:auto}.ways{list-style:none;padding:0;max-width:none!important;display:grid;grid-template-columns:repeat(auto-fit,minmax(min(17rem,100%),1fr));gap:1rem;margin:0}.ways li{margin:0;padding:1.5rem 1.6rem;border:1px solid var(--l);border-radius:var(--r);background:var(--c);display:flex;flex-direction:column}.ways li:first-child{border:2px solid var(--a)}.ways span{display:block;margin:.5rem 0 0;color:var(--s);font-size:1rem}.ways strong{display:block}.price>.note{font-weight:600;margin:.75rem 0 0}@media(min-width:56rem){main.wide .price:has(>img){display:grid;grid-template-columns:minmax(0,1fr) minmax(0,2fr);gap:0 2.5rem;align-content:start}main.wide .price>img{grid-row:1/9;max-height:none;width:100%;aspect-ratio:1;object-fit:cover}}`

const checkoutOnly =
  ".terms strong{display:block}.terms .amount{font-size:1.75rem;margin:.1rem 0 .25rem}.terms span span{color:var(--s);font-size:1rem}#checkout{max-width:none!important;background:none;border:0;outline:0;padding:0;display:grid;gap:1.5rem clamp(1.5rem,4vw,3.5rem);align-items:start}.bought{background:var(--c);border-radius:var(--r);padding:1.4rem}.about p{margin:0 0 .75rem}.about>p:first-child{font:var(--wd) 1.5rem/1.2 var(--fd)}.about strong{font-weight:inherit}:is(.about,.folded) img{width:100%;aspect-ratio:16/10;object-fit:cover}.gives{list-style:none;padding:0;margin:0 0 .9rem;font-size:1rem}.gives li{margin:.25rem 0;padding-inline-start:1.4rem;position:relative}.gives li::before{content:'✓';position:absolute;inset-inline-start:0;color:var(--e)}.bought .sentence{font-weight:400;font-size:1rem}.today{display:flex;justify-content:space-between;align-items:baseline;gap:1rem;border-top:1px solid var(--l);padding:1rem 0 0;font-weight:600}.folded{border-block:1px solid var(--l);margin:0 0 1.5rem}.folded summary{padding:.8rem 0;font-weight:600}.folded b{float:inline-end;font:var(--wd) 1.25rem/1.3 var(--fd)}@media(max-width:55.99rem){.about{display:none}.today{border:0;padding:0}}@media(min-width:56rem){.folded{display:none}#checkout{grid-template-columns:minmax(0,1fr) minmax(0,24rem)}.bought{position:sticky;top:1.5rem}.terms{display:grid;grid-template-columns:1fr 1fr;gap:.75rem}.terms legend{float:left;grid-column:1/-1}.terms .pick{margin:0}}iframe{display:block;width:100%;height:250px;border:1px solid var(--l);border-radius:var(--rf);background:#fffdf8;margin:0 0 .25rem}#card{margin:0 0 1.25rem}.code{display:flex;gap:.5rem;margin:.5rem 0 0}.code input{margin:0}.code button{font:inherit;border:1px solid var(--s);border-radius:var(--rf);background:var(--g);color:var(--i);padding:0 1rem;cursor:pointer;white-space:nowrap}.off{font-weight:600;color:var(--e);margin:0 0 .4rem}.rows{list-style:none;padding:0}.rows li{border-top:1px solid var(--l);padding:.5rem 0;margin:0}.has{padding:.8rem 1rem;border:2px solid var(--a);border-radius:var(--rf)}"

export const checkoutCss = [formCss, amountCss, more, checkoutOnly]

export const decisionCss = [
  formCss,
  amountCss,
  wayCss,
  ".yes .amount{margin:0 0 .5rem}.no{background:none;border:0!important;outline:0!important;padding:0;text-align:center;margin-block:.75rem}",
]

/** An offer as pages show it. */
export type OfferCard = {
  readonly id: number
  readonly name: string
  readonly promise: string
  readonly picture: Picture | null
  /** What buyers get by it, each in a line. */
  readonly gives: readonly string[]
  /** The courses among it. */
  readonly courses: readonly number[]
  readonly ways: readonly {
    readonly id: number
    readonly name: string
    readonly says: string
    /** The same at a glance: "4 × €79". */
    readonly amount: string
    /** What a button that accepts adds to its words. */
    readonly accept: string
    /** What is paid today. */
    readonly today: string
    /** How often something is paid, and how much in all; null: until it is ended. */
    readonly payments: number | null
    readonly total: string | null
  }[]
  /** How many are left; null: as many as are asked for. */
  readonly left: number | null
  /** The last moment, ms, and in words; null: there is none. */
  readonly ends: { readonly at: number; readonly says: string } | null
  /** How many are left, until when, or that it can't be had. */
  readonly note: string
  /** Days within which the money is given back; null: nothing is promised. */
  readonly refundDays: number | null
  readonly open: boolean
  /** What is paid where it is paid at once, as programs read it; null: there is no such way. */
  readonly once: { readonly price: string; readonly currency: string } | null
}

const pictureHtml = (p: OfferCard["picture"]) => p && pictureTag(p, { as: "third" })

/** An offer as a product that is sold (schema.org), for visitors' pages; nothing where it isn't paid at once. */
export function productData(card: OfferCard | undefined): Html | "" {
  if (!card?.once) return ""
  const { name, promise, once, open, ends } = card
  return dataTag({
    "@context": "https://schema.org",
    "@type": "Product",
    name,
    ...(promise ? { description: promise } : {}),
    offers: {
      "@type": "Offer",
      price: once.price,
      priceCurrency: once.currency,
      availability: `https://schema.org/${open ? "InStock" : "SoldOut"}`,
      ...(ends ? { priceValidUntil: new Date(ends.at).toISOString() } : {}),
    },
  } satisfies WithContext<Product>)
}

export function priceHtml(card: OfferCard | undefined): Html {
  if (!card) return html`<p class="price">${words.offer.gone}</p>`
  const ways = card.ways.map(
    (w) =>
      html`<li>${w.name && html`<strong dir="auto">${w.name}</strong>`}<b class="amount">${w.amount}</b><span>${w.says}</span></li>`,
  )
  const { picture } = card
  const drawn = pictureHtml(picture)
  return html`<div class="price">${drawn}<p><strong dir="auto">${card.name}</strong></p><ul class="ways">${ways}</ul>${card.note ? html`<p class="note">${card.note}</p>` : ""}</div>`
}

export type SumView = {
  /** Ways to pay and order bumps in sentences, by the name of their field, as the choice makes them. */
  readonly ways: Readonly<Record<string, string>>
  /** What the coupon takes off, in words. */
  readonly off: string | null

  readonly lines: readonly { readonly name: string; readonly says: string }[]
  readonly sentence: string
  /** What is paid today, at a glance. */
  readonly today: string
  readonly problem: string | null
  /** It is bought once more, knowing that it was bought just now. */
  readonly again: boolean
  readonly seen: string
  readonly button: string
  readonly needsCard: boolean
  readonly statement: string
}

/** What the choice comes to, with its button: made anew whenever the choice changes. */
export function sumHtml(v: SumView): Html {
  const rows =
    v.lines.length > 1 ? v.lines.map((l) => html`<li><strong dir="auto">${l.name}</strong> ${l.says}</li>`) : []
  return html`<input type="hidden" name="seen" value="${v.seen}"><input type="hidden" name="paid" value="${v.needsCard ? "1" : ""}">${v.again ? html`<input type="hidden" name="again" value="1">` : ""}${rows.length ? html`<ul class="rows">${rows}</ul>` : ""}<template data-way="today">${v.today}</template>${Object.entries(
    v.ways,
  ).map(
    ([name, says]) => html`<template data-way="${name}">${says}</template>`,
  )}${v.off ? html`<p class="off">${v.off}</p>` : ""}${v.problem ? html`<p class="wrong" role="alert">${v.problem}</p>` : ""}<p class="today"><span>${words.checkout.today}</span><b class="amount">${v.today}</b></p><p class="sentence">${v.sentence}</p><button class="go" name="buy" value="1">${v.button}</button>${v.needsCard && v.statement ? html`<p class="small">${words.checkout.statement(v.statement)}</p>` : ""}`
}

export type CheckoutView = {
  readonly action: string
  readonly once: string
  readonly release: number
  /** Origin of the processor's card fields; null: none here. */
  /** Nothing but the stand-in is connected: no money moves. */
  readonly test: boolean
  readonly cards: string | null
  readonly error: string | null
  readonly email: string
  readonly askName: boolean
  readonly name: string
  readonly askPostal: boolean
  readonly postal: string
  readonly askCode: boolean
  readonly code: string
  readonly consent: string
  readonly agreed: boolean
  /** What is bought, beside the form. */
  readonly bought: Pick<OfferCard, "name" | "promise" | "picture" | "gives">
  readonly terms: readonly {
    readonly id: number
    readonly name: string
    readonly says: string
    readonly amount: string
  }[]
  readonly chosen: number
  readonly bumps: readonly {
    readonly id: number
    readonly says: string
    readonly name: string
    readonly price: string
    readonly picture: OfferCard["picture"]
    readonly picked: boolean
  }[]
  readonly sum: SumView
  /** They have it, in words, and where it opens. */
  readonly has: { readonly says: string; readonly href: string } | null
}

export function checkoutHtml(v: CheckoutView): Html {
  const w = words.checkout
  const field = (id: string, label: string, attributes: Html, value: string) =>
    html`<label for="${id}">${label}</label><input id="${id}" name="${id}" ${attributes} value="${value}">`
  const terms =
    v.terms.length > 1
      ? html`<fieldset class="terms"><legend>${w.terms}</legend>${v.terms.map((t) => html`<label class="pick"><input type="radio" name="terms" value="${t.id}"${t.id === v.chosen ? " checked" : ""}><span>${t.name && html`<strong dir="auto">${t.name}</strong>`}<b class="amount" data-way="amount-terms${t.id}">${v.sum.ways[`amount-terms${t.id}`] ?? t.amount}</b><span data-way="terms${t.id}">${v.sum.ways[`terms${t.id}`] ?? t.says}</span></span></label>`)}</fieldset>`
      : html`<input type="hidden" name="terms" value="${v.chosen}">`
  const bumps = v.bumps.length
    ? html`<fieldset><legend>${w.bumps}</legend>${v.bumps.map((b) => html`<label class="pick"><input type="checkbox" name="bump${b.id}" value="1"${b.picked ? " checked" : ""}>${pictureHtml(b.picture)}<span dir="auto"><strong>${b.name}</strong> ${b.says} <em data-way="bump${b.id}">${v.sum.ways[`bump${b.id}`] ?? b.price}</em></span></label>`)}</fieldset>`
    : ""
  const has = v.has ? html`<p class="has">${v.has.says} <a href="${v.has.href}">${w.hasItLink}</a></p>` : ""
  const card = v.cards
    ? html`${v.test ? html`<p class="wrong">${w.test}</p>` : ""}<div id="card"${v.sum.needsCard ? "" : " hidden"}><iframe id="cards" title="${w.card}" src="${v.cards}/fields"></iframe><p class="small">${w.cardNote}</p><noscript><p class="wrong">${w.noScript}</p></noscript></div>`
    : ""
  const about = html`${pictureHtml(v.bought.picture)}${v.bought.promise && html`<p dir="auto">${v.bought.promise}</p>`}${v.bought.gives.length ? html`<ul class="gives">${v.bought.gives.map((g) => html`<li dir="auto">${g}</li>`)}</ul>` : ""}`
  const folded = html`<details class="folded"><summary><span dir="auto">${v.bought.name}</span> <b data-way="today">${v.sum.today}</b></summary>${about}</details>`
  return html`${has}<form id="checkout" name="checkout" method="post" action="${v.action}" data-cards="${v.cards ?? ""}"><div class="fields">${folded}${v.error ? html`<p class="wrong" role="alert" tabindex="-1" autofocus>${v.error}</p>` : ""}${terms}${bumps}${v.askName ? field("name", w.name, html`autocomplete="given-name" maxlength="80"`, v.name) : ""}${field("email", w.email, html`type="email" required autocomplete="email" inputmode="email" maxlength="254"`, v.email)}${
    v.askPostal
      ? html`<label for="postal">${w.postal}</label><textarea id="postal" name="postal" rows="3" required autocomplete="street-address" maxlength="400">${v.postal}</textarea>`
      : ""
  }${v.consent ? html`<label class="pick"><input type="checkbox" name="consent" value="1"${v.agreed ? " checked" : ""}><span dir="auto">${v.consent}</span></label>` : ""}${card}${
    v.askCode
      ? html`<details${v.code ? " open" : ""}><summary>${w.code}</summary><div class="code"><input id="code" name="code" aria-label="${w.code}" autocomplete="off" maxlength="60" value="${v.code}"><button name="quote" value="1" formnovalidate>${w.codeButton}</button></div></details>`
      : ""
  }<div class="hp" aria-hidden="true"><label for="website">${words.page.honeypot}</label><input id="website" name="website" tabindex="-1" autocomplete="off"></div><input type="hidden" name="release" value="${v.release}"><input type="hidden" name="zone" value=""><input type="hidden" name="once" value="${v.once}"><input type="hidden" name="token" value=""></div><div class="bought"><div class="about"><p><strong dir="auto">${v.bought.name}</strong></p>${about}</div><section id="sum" aria-live="polite" aria-label="${w.sum}">${sumHtml(v.sum)}</section></div></form>`
}

export type DecisionView = {
  readonly action: string
  readonly order: string
  readonly sentence: string
  readonly amount: string
  readonly seen: string
  readonly accept: string
  readonly decline: string
  readonly error: string | null
}

/** One button that says what it costs, one plain link that declines. */
export function decisionHtml(v: DecisionView): Html {
  const hidden = html`<input type="hidden" name="order" value="${v.order}"><input type="hidden" name="seen" value="${v.seen}">`
  return html`${v.error ? html`<p class="wrong" role="alert" tabindex="-1" autofocus>${v.error}</p>` : ""}<form class="yes" method="post" action="${v.action}">${hidden}<p class="amount">${v.amount}</p><p class="sentence">${v.sentence}</p><button class="go" dir="auto" name="say" value="accepted">${v.accept}</button></form><form class="no" method="post" action="${v.action}">${hidden}<button class="plain" dir="auto" name="say" value="declined">${v.decline}</button></form>`
}

/** Where in the way a buyer is. */
export function wayHtml(at: 0 | 1 | 2): Html {
  return html`<ol class="steps">${words.further.way.map((w, i) => html`<li${i === at ? html` aria-current="step"` : ""}>${w}</li>`)}</ol>`
}

export type ProofView = {
  /** The first order and the further ones: what was bought, and what is paid for it. */
  readonly orders: readonly {
    readonly number: string
    readonly bought: readonly { readonly name: string; readonly href: string | null }[]
    readonly sentence: string
  }[]
  readonly email: string
  readonly open: { readonly href: string; readonly says: string } | null
}

export function proofHtml(v: ProofView | null): Html {
  if (!v) return html``
  const p = words.proof
  return html`<div class="section tinted"><p><strong>${p.worked}</strong></p><ul>${v.orders.map((o) => html`<li><strong>${o.bought.map((b, i) => [i ? ", " : "", b.href ? html`<a href="${b.href}">${b.name}</a>` : b.name])}</strong> (${p.order(o.number)}). ${o.sentence}</li>`)}</ul><p>${p.device}</p>${v.open ? html`<p class="way"><a class="go" href="${v.open.href}">${v.open.says}</a></p>` : ""}<p class="small">${p.mail(v.email)}</p></div>`
}
