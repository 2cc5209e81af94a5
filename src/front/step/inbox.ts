// "Check your inbox": names the address that this device has just typed, and sends once more after a minute.
import { html } from "@/core/html"
import { words } from "@/core/words/en"
import { askOnceMore } from "@/server/funnel/once-more"
import { isForged, redirect } from "../reply"
import { typedCookie, typedOf } from "../typed"
import { postJoin } from "./optin"
import type { FrontStep } from "./step"

/** After how many ms it can be sent once more. */
const pause = 60_000

export const inbox: FrontStep = {
  strip(front, req, page) {
    const typed = typedOf(front, req)
    if (!typed) return null
    const w = words.inbox
    const soon = req.query.has("soon") && Date.now() - typed.at < pause
    const more = typed.again
      ? html`<p>${w.again}</p>`
      : html`${soon ? html`<p class="wrong" role="alert">${w.soon}</p>` : ""}<form method="post" action="${`/${page.page.path}`}"><input type="hidden" name="again" value="1"><p>${w.late} <button>${w.once}</button></p></form>`
    return html`<div class="section tinted"><p>${w.sentTo(typed.email)}</p>${more}</div>`
  },
  async post(front, req, page, visitor, fields) {
    if (fields.again !== "1") return postJoin(front, req, page, visitor, fields)
    const here = `/${page.page.path}`
    const typed = isForged(req) ? null : typedOf(front, req)
    if (!typed || typed.again) return redirect(here)
    if (Date.now() - typed.at < pause) return redirect(`${here}?soon`)
    await askOnceMore(front.s, { release: page.release, email: typed.email, visitor: visitor.id, ip: req.ip })
    return redirect(here, { "set-cookie": typedCookie(front, typed.email, true) })
  },
}
