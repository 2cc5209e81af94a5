// The parts of a page that sell: prices, the checkout's form, a further offer's yes and no, the proof that it worked. Each
// takes what the server worked out and gives HTML; amounts come in finished words from the plan.

import { escapeHtml as e } from "../html"
import { words } from "../words/en"

/** An offer as pages show it. */
export type OfferCard = {
  readonly id: number
  readonly name: string
  readonly promise: string
  readonly picture: { readonly url: string; readonly width: number; readonly height: number } | null
  readonly ways: readonly {
    readonly id: number
    readonly name: string
    readonly says: string
    /** What a button that accepts adds to its words. */
    readonly accept: string
  }[]
  /** How many are left, until when, or that it can't be had. */
  readonly note: string
  readonly open: boolean
}

export function priceHtml(card: OfferCard | undefined): string {
  if (!card) return `<p class="price">${e(words.offer.gone)}</p>`
  const ways = card.ways.map((w) => `<li>${w.name ? `<strong>${e(w.name)}</strong> ` : ""}${e(w.says)}</li>`)
  const { picture } = card
  const drawn = picture
    ? `<img src="${e(picture.url)}" width="${picture.width}" height="${picture.height}" alt="" loading="lazy">`
    : ""
  return `<div class="price">${drawn}<p><strong dir="auto">${e(card.name)}</strong></p><ul>${ways.join("")}</ul>${card.note ? `<p class="note">${e(card.note)}</p>` : ""}</div>`
}

export type SumView = {
  /** Ways to pay and order bumps in sentences, by the name of their field, as the choice makes them. */
  readonly ways: Readonly<Record<string, string>>
  /** What the coupon takes off, in words. */
  readonly off: string | null

  readonly lines: readonly { readonly name: string; readonly says: string }[]
  readonly sentence: string
  readonly problem: string | null
  /** It is bought once more, knowing that it was bought just now. */
  readonly again: boolean
  readonly seen: string
  readonly button: string
  readonly needsCard: boolean
  readonly statement: string
}

/** What the choice comes to, with its button: made anew whenever the choice changes. */
export function sumHtml(v: SumView): string {
  const rows =
    v.lines.length > 1
      ? v.lines.map((l) => `<li><strong dir="auto">${e(l.name)}</strong> ${e(l.says)}</li>`).join("")
      : ""
  return `<input type="hidden" name="seen" value="${e(v.seen)}"><input type="hidden" name="paid" value="${v.needsCard ? "1" : ""}">${v.again ? '<input type="hidden" name="again" value="1">' : ""}${rows ? `<ul class="rows">${rows}</ul>` : ""}${Object.entries(
    v.ways,
  )
    .map(([name, says]) => `<template data-way="${e(name)}">${e(says)}</template>`)
    .join(
      "",
    )}${v.off ? `<p class="off">${e(v.off)}</p>` : ""}${v.problem ? `<p class="wrong" role="alert">${e(v.problem)}</p>` : ""}<p class="sentence">${e(v.sentence)}</p><button class="go" name="buy" value="1">${e(v.button)}</button>${v.needsCard && v.statement ? `<p class="small">${e(words.checkout.statement(v.statement))}</p>` : ""}`
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
  readonly terms: readonly { readonly id: number; readonly name: string; readonly says: string }[]
  readonly chosen: number
  readonly bumps: readonly {
    readonly id: number
    readonly says: string
    readonly name: string
    readonly price: string
    readonly picked: boolean
  }[]
  readonly sum: SumView
  /** They have it, in words, and where it opens. */
  readonly has: { readonly says: string; readonly href: string } | null
}

export function checkoutHtml(v: CheckoutView): string {
  const w = words.checkout
  const field = (id: string, label: string, attributes: string, value: string) =>
    `<label for="${id}">${e(label)}</label><input id="${id}" name="${id}" ${attributes} value="${e(value)}">`
  const terms =
    v.terms.length > 1
      ? `<fieldset><legend>${e(w.terms)}</legend>${v.terms.map((t) => `<label class="pick"><input type="radio" name="terms" value="${t.id}"${t.id === v.chosen ? " checked" : ""}><span>${t.name ? `<strong>${e(t.name)}</strong> ` : ""}<span data-way="terms${t.id}">${e(v.sum.ways[`terms${t.id}`] ?? t.says)}</span></span></label>`).join("")}</fieldset>`
      : `<input type="hidden" name="terms" value="${v.chosen}">`
  const bumps = v.bumps.length
    ? `<fieldset><legend>${e(w.bumps)}</legend>${v.bumps.map((b) => `<label class="pick"><input type="checkbox" name="bump${b.id}" value="1"${b.picked ? " checked" : ""}><span dir="auto"><strong>${e(b.name)}</strong> ${e(b.says)} <em data-way="bump${b.id}">${e(v.sum.ways[`bump${b.id}`] ?? b.price)}</em></span></label>`).join("")}</fieldset>`
    : ""
  const has = v.has ? `<p class="has">${e(v.has.says)} <a href="${e(v.has.href)}">${e(w.hasItLink)}</a></p>` : ""
  const card = v.cards
    ? `${v.test ? `<p class="wrong">${e(w.test)}</p>` : ""}<div id="card"${v.sum.needsCard ? "" : " hidden"}><iframe id="cards" title="${e(w.card)}" src="${e(v.cards)}/fields"></iframe><p class="small">${e(w.cardNote)}</p><noscript><p class="wrong">${e(w.noScript)}</p></noscript></div>`
    : ""
  return `${has}<form id="checkout" name="checkout" method="post" action="${e(v.action)}" data-cards="${e(v.cards ?? "")}">${v.error ? `<p class="wrong" role="alert" tabindex="-1" autofocus>${e(v.error)}</p>` : ""}${terms}${bumps}${
    v.askName ? field("name", w.name, 'autocomplete="given-name" maxlength="80"', v.name) : ""
  }${field("email", w.email, 'type="email" required autocomplete="email" inputmode="email" maxlength="254"', v.email)}${
    v.askPostal
      ? `<label for="postal">${e(w.postal)}</label><textarea id="postal" name="postal" rows="3" required autocomplete="street-address" maxlength="400">${e(v.postal)}</textarea>`
      : ""
  }${v.consent ? `<label class="pick"><input type="checkbox" name="consent" value="1"${v.agreed ? " checked" : ""}><span dir="auto">${e(v.consent)}</span></label>` : ""}${card}${
    v.askCode
      ? `<details${v.code ? " open" : ""}><summary>${e(w.code)}</summary><div class="code"><input id="code" name="code" aria-label="${e(w.code)}" autocomplete="off" maxlength="60" value="${e(v.code)}"><button name="quote" value="1" formnovalidate>${e(w.codeButton)}</button></div></details>`
      : ""
  }<div class="hp" aria-hidden="true"><label for="website">${e(words.page.honeypot)}</label><input id="website" name="website" tabindex="-1" autocomplete="off"></div><input type="hidden" name="release" value="${v.release}"><input type="hidden" name="zone" value=""><input type="hidden" name="once" value="${e(v.once)}"><input type="hidden" name="token" value=""><section id="sum" aria-live="polite" aria-label="${e(w.sum)}">${sumHtml(v.sum)}</section></form>`
}

export type DecisionView = {
  readonly action: string
  readonly order: string
  readonly sentence: string
  readonly seen: string
  readonly accept: string
  readonly decline: string
  readonly error: string | null
}

/** One button that says what it costs, one plain link that declines. */
export function decisionHtml(v: DecisionView): string {
  const hidden = `<input type="hidden" name="order" value="${e(v.order)}"><input type="hidden" name="seen" value="${e(v.seen)}">`
  return `${v.error ? `<p class="wrong" role="alert" tabindex="-1" autofocus>${e(v.error)}</p>` : ""}<form class="yes" method="post" action="${e(v.action)}">${hidden}<p class="sentence">${e(v.sentence)}</p><button class="go" dir="auto" name="say" value="accepted">${e(v.accept)}</button></form><form class="no" method="post" action="${e(v.action)}">${hidden}<button class="plain" dir="auto" name="say" value="declined">${e(v.decline)}</button></form>`
}

/** Where in the way a buyer is. */
export function wayHtml(at: 0 | 1 | 2): string {
  return `<ol class="steps">${words.further.way.map((w, i) => `<li${i === at ? ' aria-current="step"' : ""}>${e(w)}</li>`).join("")}</ol>`
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

export function proofHtml(v: ProofView | null): string {
  if (!v) return ""
  const p = words.proof
  return `<div class="section tinted"><p><strong>${e(p.worked)}</strong></p><ul>${v.orders.map((o) => `<li><strong>${o.bought.map((b) => (b.href ? `<a href="${e(b.href)}">${e(b.name)}</a>` : e(b.name))).join(", ")}</strong> (${e(p.order(o.number))}). ${e(o.sentence)}</li>`).join("")}</ul><p>${e(p.device)}</p>${v.open ? `<p class="way"><a class="go" href="${e(v.open.href)}">${e(v.open.says)}</a></p>` : ""}<p class="small">${e(p.mail(v.email))}</p></div>`
}
