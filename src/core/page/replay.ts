// The replay of a webinar on its page: what plays, until when, its chapters, and what it leads to from its minute on.

import type { Chapter } from "../course/chapters"
import { type Html, html } from "../html"
import { words } from "../words/en"
import { momentHtml } from "./dates"
import { chapterList, filmSources } from "./film"

export const replayCss = "#offer{margin-top:1rem}"

export type ReplayView =
  /** Nothing shows who is here. */
  | { readonly is: "unknown" }
  | { readonly is: "before"; readonly starts: number; readonly zone: string }
  | { readonly is: "over"; readonly until: string }
  | { readonly is: "missing" }
  | {
      readonly is: "there"
      /** Its last minute, in words. */
      readonly until: string
      readonly plays: { readonly url: string; readonly type: string }
      readonly captions: string | null
      readonly chapters: readonly Chapter[]
      readonly handout: { readonly url: string; readonly name: string } | null
      /** `at`: second from which it is shown; `part`: the same as a share, for what plays shorter than the webinar was. */
      readonly offer: { readonly html: Html; readonly at: number; readonly part: number } | null
    }

export function replayHtml(v: ReplayView): Html {
  const w = words.webinar
  if (v.is === "unknown") return html`<p class="section tinted">${w.replayForSeats}</p>`
  if (v.is === "before") return html`<p class="section tinted">${w.replayAfter} ${momentHtml(v.starts, v.zone)}</p>`
  if (v.is === "over") return html`<p class="section tinted">${w.replayOver(v.until)}</p>`
  if (v.is === "missing") return html`<p class="section tinted">${w.replayMissing}</p>`
  return html`<p class="sentence">${w.replayUntil(v.until)}</p><video controls playsinline preload="metadata">${filmSources(v.plays.url)}${v.captions && html`<track kind="captions" src="${v.captions}" srclang="en" label="${w.captions}" default>`}</video>${chapterList(v.chapters, v.plays.url)}${v.handout && html`<p><a href="${v.handout.url}" download>${w.handout}: <span dir="auto">${v.handout.name}</span></a></p>`}${v.offer && html`<div id="offer" data-at="${v.offer.at}" data-part="${v.offer.part}">${v.offer.html}</div>`}`
}
