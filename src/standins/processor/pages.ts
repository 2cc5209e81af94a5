// The stand-in's own pages: the card fields that a checkout shows in a frame, the page of the buyer's bank, and the one
// that makes it slow, failing or unreachable.

import { type Html, html, raw } from "@/core/html"
import { testCards } from "@/core/offer/card"
import { moneyText } from "@/core/offer/money"
import { scripts } from "@/core/page/scripts"
import type { Payment, Store } from "./store"

const style = `*{box-sizing:border-box}body{margin:0;font:16px/1.5 system-ui,sans-serif;color:#14262d;background:#fffdf8}
label{display:block;font-weight:600;font-size:.95rem;margin:0 0 .2rem}input,select{font:inherit;font-size:1.0625rem;width:100%;padding:.6rem .7rem;border:1px solid #55666c;border-radius:6px;background:#fff;color:#14262d}
.two{display:grid;grid-template-columns:1fr 1fr;gap:.75rem;margin-top:.75rem}.wrong{color:#96465a;font-weight:600;margin:.5rem 0 0}button{font:inherit;padding:.5rem .8rem;border:1px solid #55666c;border-radius:6px;background:#fff;cursor:pointer;text-align:left}
:focus-visible{outline:3px solid #2b5266;outline-offset:2px}details{margin:.75rem 0 0}summary{cursor:pointer;font-size:.9rem}details button{display:block;width:100%;margin:.35rem 0 0;font-size:.9rem}code{font-variant-numeric:tabular-nums}
.fields{padding:.8rem}main{max-width:34rem;margin:2rem auto;padding:0 1.25rem}.go{background:#2b5266;color:#fff;border:0;padding:.7rem 1.2rem;text-align:center}table{border-collapse:collapse;width:100%;font-size:.9rem}td,th{text-align:left;padding:.35rem .5rem;border-top:1px solid #dad6c8}`

const page = (title: string, body: Html) =>
  html`<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><title>${title}</title><link rel="icon" href="data:,"><style>${raw(style)}</style></head><body>${body}</body></html>`
    .text

export function fieldsPage(): string {
  const cards = Object.values(testCards).map(
    (c) =>
      html`<button type="button" data-number="${c.number}"><code>${c.number.replace(/(.{4})(?=.)/g, "$1 ")}</code> ${c.says}</button>`,
  )
  return page(
    "Card",
    html`<div role="group" aria-label="Card" class="fields"><label for="number">Card number</label><input id="number" inputmode="numeric" autocomplete="cc-number" required>
<div class="two"><div><label for="expires">Valid until</label><input id="expires" inputmode="numeric" autocomplete="cc-exp" placeholder="MM/YY"></div><div><label for="code">Code on the card</label><input id="code" inputmode="numeric" autocomplete="cc-csc" maxlength="4"></div></div>
<p id="wrong" class="wrong" role="alert" hidden></p><details><summary>Test cards: nothing is really charged here</summary>${cards}</details></div><script>${raw(scripts["card-fields"])}</script>`,
  )
}

export function bankPage(payment: Payment): string {
  const open = payment.state === "needs-confirmation"
  return page(
    "Your bank",
    html`<main><h1>Your bank asks</h1><p>${payment.statement} wants <strong>${moneyText(payment.amount, payment.currency)}</strong> from your card ending in ${payment.card.last4}. This page stands in for the bank's own.</p>${
      open
        ? html`<form method="post"><button class="go" name="agreed" value="1">Yes, pay it</button> <button name="agreed" value="0">No, don't</button></form>`
        : html`<p>This has been answered already.</p><p><a href="${payment.returnTo}">Back to the school</a></p>`
    }</main>`,
  )
}

const choices = {
  answers: ["at once", "slowly", "with an error", "with an error after charging", "not at all"],
  hooks: ["at once", "late", "twice", "out of order", "never"],
  keeps: ["nothing", "1.5 % and 25"],
} as const

export function controlPage(store: Store): string {
  const { behaviour } = store
  const select = (name: keyof typeof choices, label: string) =>
    html`<p><label for="${name}">${label}</label><select id="${name}" name="${name}">${choices[name].map((c) => html`<option${behaviour[name] === c ? " selected" : ""}>${c}</option>`)}</select></p>`
  const rows = [...store.payments.values()]
    .slice(-30)
    .reverse()
    .map(
      (p) =>
        html`<tr><td>${p.at.slice(0, 19).replace("T", " ")}</td><td>${moneyText(p.amount, p.currency)}</td><td>…${p.card.last4}</td><td>${p.state}${p.reason ? `: ${p.reason}` : ""}${p.refunded ? `, ${moneyText(p.refunded, p.currency)} given back` : ""}</td><td>${p.state === "succeeded" && p.refunded < p.amount ? html`<form method="post" action="/dispute/${p.id}"><button>The bank takes it back</button></form>` : ""}</td></tr>`,
    )
  return page(
    "Card processor stand-in",
    html`<main><h1>Card processor stand-in</h1><p>It charges nothing. Here it can be made to behave badly.</p><form method="post" action="/behaviour">${select("answers", "It answers")}<p><label for="slow">Slowly means, in seconds</label><input id="slow" name="slow" type="number" min="0" max="120" value="${behaviour.slowMs / 1000}"></p>${select("hooks", "It sends its webhooks")}<p><label for="late">Late means, in seconds</label><input id="late" name="late" type="number" min="0" max="120" value="${behaviour.lateMs / 1000}"></p>${select("keeps", "Of each payment it keeps")}<button class="go">Save</button></form><h2>Latest payments</h2><table>${rows.length ? rows : html`<tr><td>None yet.</td></tr>`}</table><p><a href="/openapi.json">Its interface, in OpenAPI</a></p></main>`,
  )
}

export { choices as behaviours }
