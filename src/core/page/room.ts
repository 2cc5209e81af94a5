// The page of a webinar's room: what plays, in step with the server's clock, and from its minute on what it leads to.

import { type Html, html, raw } from "../html"
import type { Playing } from "../webinar/recording"
import { words } from "../words/en"
import { momentHtml } from "./dates"
import { hiddenHead, type SchoolSeen, schoolHead } from "./frame"
import { scripts } from "./scripts"
import { type OfferCard, priceCss, priceHtml } from "./selling"
import { amountCss, formCss, styleSheet } from "./style"

export type RoomView = {
  readonly title: string
  readonly host: string
  readonly starts: number
  readonly zone: string
  readonly school: SchoolSeen
  /** Where its beats go. */
  readonly path: string
  readonly chat: "all" | "host" | "off"
  readonly phase: Exclude<Playing["phase"], "over">
  readonly plays: { readonly url: string; readonly type: string } | null
  readonly captions: string | null
  readonly handout: { readonly url: string; readonly name: string } | null
  /** Where the replay will be; null: there is none. */
  readonly replay: string | null
}

/** What a beat is answered with, and the page keeps in step by. `offer`: HTML of what it leads to, for whoever doesn't have it yet. */
export type Beat =
  | Exclude<Playing, { readonly phase: "running" }>
  | { readonly phase: "running"; readonly second: number; readonly offer: string | null }

/** What a webinar leads to, with its price sentence and, where the seat makes it less, until when. */
export function seatOfferHtml(card: OfferCard | undefined, until: string | null, href: string): Html {
  const w = words.webinar
  return html`${priceHtml(card)}${until ? html`<p class="sentence">${w.yoursUntil(until)}</p>` : ""}<p><a class="go" href="${href}" target="_blank" rel="noopener">${w.toOffer}</a></p>`
}

const css =
  "video{width:100%;background:#000;display:block}#count{font-size:3rem;font-variant-numeric:tabular-nums;text-align:center;margin:1rem 0}#log{max-height:16rem;overflow:auto}#said{list-style:none;padding:0;margin:0}#said li{padding:.35rem 0;border-top:1px solid var(--l);margin:0}#said .host{font-weight:600}#offer{border-top:1px solid var(--l);margin-top:1.5rem;padding-top:1rem}#polls fieldset{border:0;border-top:1px solid var(--l);margin:1rem 0 0;padding:.8rem 0 0}#polls legend{font-weight:600;float:left;width:100%;margin-bottom:.4rem}#polls button{display:block;width:100%;text-align:start;font:inherit;color:inherit;background:var(--c);border:1px solid var(--l);border-radius:6px;padding:.6rem .8rem;margin:.4rem 0 0;min-height:44px;cursor:pointer;clear:both}#polls button[aria-pressed=true]{outline:2px solid;outline-offset:-2px;font-weight:600}#polls button:disabled{cursor:default;background:var(--g);color:inherit}#polls fieldset+fieldset{display:none}#polls i{display:block;height:.4rem;background:var(--a);margin:.25rem 0 0;min-width:2px}#polls small{display:block;margin:.1rem 0 .5rem}@media(min-width:60rem){.room{display:grid;grid-template:'stage offer' auto 'stage talk' auto 'polls talk' 1fr/minmax(0,1fr) 21rem;gap:0 2rem;align-items:start}.stage{grid-area:stage}.room #offer{grid-area:offer;margin:0 0 1.5rem;padding:0;border:0}#polls{grid-area:polls}.talk{grid-area:talk}.room h2,.room .price{margin-top:0}.room #log{max-height:22rem}}"

/** What the program of the page says. */
export type RoomSays = Readonly<Record<"you" | "somebody" | "ask" | "asks" | "ofVotes" | "notSent", string>>

export function roomPage(v: RoomView): { html: string; style: string; script: string } {
  const style = styleSheet(v.school.look, { own: [formCss, amountCss, priceCss, css] })
  const w = words.webinar
  const says: RoomSays = {
    you: w.you,
    somebody: w.somebody,
    ask: w.ask,
    asks: w.asks,
    ofVotes: w.ofVotes,
    notSent: w.notSent,
  }
  const talks = v.chat !== "off"
  const talk = talks
    ? html`<section class="talk" aria-label="${w.chat}"><h2>${w.chat}</h2>${v.chat === "host" ? html`<p class="small">${w.onlyHost}</p>` : ""}<div id="log" role="log" tabindex="0" aria-label="${w.said}"><ol id="said"></ol></div><form id="say"><label for="words">${w.saySomething}</label><input id="words" name="words" maxlength="500" autocomplete="off" required><label class="pick"><input type="checkbox" name="question"> ${w.isQuestion}</label><p id="refused" role="status"></p><button class="go">${w.send}</button></form></section>`
    : ""
  const stage =
    v.phase === "before"
      ? html`<p>${w.beginsAt} ${momentHtml(v.starts, v.zone)}</p><p id="count" role="timer"></p>`
      : v.phase === "running" && v.plays
        ? html`<video playsinline preload="auto" disablepictureinpicture><source src="${v.plays.url}" type="${v.plays.type}">${v.captions ? html`<track kind="captions" src="${v.captions}" srclang="en" label="${w.captions}" default>` : ""}</video><button class="go" id="sound" hidden>${w.soundOn}</button>`
        : html`<p class="section tinted">${w.noRecording}</p>`
  const handout =
    v.handout && v.phase !== "before"
      ? html`<p><a href="${v.handout.url}" download>${w.handout}: <span dir="auto">${v.handout.name}</span></a></p>`
      : ""
  const plain = html`<noscript><p class="section tinted">${w.needsScript} ${w.plainWhen} ${momentHtml(v.starts, v.zone)}.${v.replay ? html` <a href="${v.replay}">${w.plainReplay}</a>` : ""}</p></noscript>`
  const page = html`${hiddenHead(v.school, v.title, style)}${schoolHead(v.school)}<main class="wide" data-path="${v.path}" data-says="${JSON.stringify(says)}"><h1 dir="auto">${v.title}</h1>${v.host ? html`<p>${w.with(v.host)}</p>` : ""}${plain}<div class="room"><div class="stage">${stage}${handout}</div><div id="offer" aria-live="polite" hidden></div><div id="polls" aria-live="polite" hidden></div>${talk}</div></main><footer dir="auto">${v.school.name}</footer><script>${raw(scripts.room)}</script></body></html>`
  return { html: page.text, style, script: scripts.room }
}
