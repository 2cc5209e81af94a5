// The replay of a webinar on its page: what plays, until when, its chapters, and what it leads to from its minute on.
import { type Chapter, clock } from "../course/chapters"
import { escapeHtml as e } from "../html"
import { words } from "../words/en"
import { momentHtml } from "./dates"

export const replayCss = ({ line }: { readonly line: string }) =>
  `#chapters{list-style:none;padding:0;margin:.6rem 0}#chapters li{margin:0;border-top:1px solid ${line}}#chapters a{display:block;padding:.6rem 0}#offer{margin-top:1rem}`

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
      readonly offer: { readonly html: string; readonly at: number; readonly part: number } | null
    }

export function replayHtml(v: ReplayView): string {
  const w = words.webinar
  if (v.is === "unknown") return `<p class="section tinted">${e(w.replayForSeats)}</p>`
  if (v.is === "before") return `<p class="section tinted">${e(w.replayAfter)} ${momentHtml(v.starts, v.zone)}</p>`
  if (v.is === "over") return `<p class="section tinted">${e(w.replayOver(v.until))}</p>`
  if (v.is === "missing") return `<p class="section tinted">${e(w.replayMissing)}</p>`
  const chapters = v.chapters
    .map(
      (c) =>
        `<li><a href="${e(v.plays.url)}#t=${c.at}" data-at="${c.at}"><span>${clock(c.at)}</span> <span dir="auto">${e(c.title)}</span></a></li>`,
    )
    .join("")
  return (
    `<p class="sentence">${e(w.replayUntil(v.until))}</p>` +
    `<video controls playsinline preload="metadata"><source src="${e(v.plays.url)}" type="${e(v.plays.type)}">${v.captions ? `<track kind="captions" src="${e(v.captions)}" srclang="en" label="${e(w.captions)}" default>` : ""}</video>` +
    (chapters ? `<h2>${e(w.chapters)}</h2><ol id="chapters">${chapters}</ol>` : "") +
    (v.handout
      ? `<p><a href="${e(v.handout.url)}" download>${e(w.handout)}: <span dir="auto">${e(v.handout.name)}</span></a></p>`
      : "") +
    (v.offer ? `<div id="offer" data-at="${v.offer.at}" data-part="${v.offer.part}">${v.offer.html}</div>` : "")
  )
}
