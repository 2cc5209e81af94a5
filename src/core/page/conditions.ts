// The conditions of a programme in a form: read there, and agreed to by a tick that says which version it was.

import { escapeHtml } from "../html"
import { words } from "../words/en"

/** Empty where there are none. */
export function conditionsHtml(version: number, text: string): string {
  if (!version) return ""
  return `<details><summary>${words.affiliate.conditions(version)}</summary>${text
    .split(/\n\s*\n/)
    .map((p) => `<p dir="auto">${escapeHtml(p).replace(/\n/g, "<br>")}</p>`)
    .join(
      "",
    )}</details><label class="pick"><input type="checkbox" name="agreed" value="${version}" required> ${words.affiliate.agree}</label>`
}
