// How a film stands in HTML: in the width that a screen needs.
import { type Chapter, clock } from "../course/chapters"
import { html } from "../html"
import { words } from "../words/en"

/** The narrower widths that films are made in, pixels: for a phone, and for everything else. */
export const filmWidths = [640, 1280] as const

/** The same film in a width of `filmWidths`; where it isn't made, the address leads to the film as it came. */
export const filmIn = (url: string, width: number) => url.replace(/\.(mp4|webm)(?=\?|$)/, `-${width}.$1`)

/** What fits, for a `media` of each source (HTML, 4.8.4.2.2 and 4.8.9.2); the last fits everywhere. */
export const filmsOf = (url: string): readonly { readonly src: string; readonly media?: string }[] => [
  { src: filmIn(url, filmWidths[0]), media: "(max-width:40rem)" },
  { src: filmIn(url, filmWidths[1]) },
]

/** A film's sources, to stand in a `<video>`. */
export const filmSources = (url: string) =>
  filmsOf(url).map((f) => html`<source src="${f.src}"${f.media && html` media="${f.media}"`}>`)

/** Its chapters, under it: each leads to its second, in the film where scripts run (`src/browser/chapters.ts`). */
export const chapterList = (chapters: readonly Chapter[], url: string) =>
  chapters.length > 0 &&
  html`<ol class="chapters" aria-label="${words.webinar.chapters}">${chapters.map(
    (c) =>
      html`<li><a href="${filmIn(url, filmWidths[1])}#t=${c.at}" data-at="${c.at}"><span>${clock(c.at)}</span> <span dir="auto">${c.title}</span></a></li>`,
  )}</ol>`

export const chaptersCss =
  ".chapters{list-style:none;padding:0;margin:.6rem 0}.chapters li{margin:0;border-top:1px solid var(--l)}.chapters a{display:block;padding:.6rem 0}"
