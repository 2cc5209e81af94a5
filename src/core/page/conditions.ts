// The conditions of a programme in a form: read there, and agreed to by a tick that says which version it was.

import { escapeHtml, type Html, html, raw } from "../html"
import { words } from "../words/en"

/** Empty where there are none. */
export function conditionsHtml(version: number, text: string): Html {
  if (!version) return html``
  return html`<details><summary>${words.affiliate.conditions(version)}</summary>${text
    .split(/\n\s*\n/)
    .map(
      (p) => html`<p dir="auto">${raw(escapeHtml(p).replace(/\n/g, "<br>"))}</p>`,
    )}</details><label class="pick"><input type="checkbox" name="agreed" value="${version}" required> ${words.affiliate.agree}</label>`
}
