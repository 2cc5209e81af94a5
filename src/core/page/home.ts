// The front page of a school, made from what is live: who teaches, what is given away, its webinars, its courses.
import { type Html, html } from "../html"
import { words } from "../words/en"
import { cityOf } from "../words/moment"
import { cardButton, cardHtml, cardPrice, cardsCss } from "./cards"
import type { TeacherCard } from "./compile"
import { momentHtml } from "./dates"
import { headClose, headOpen, type SchoolSeen } from "./frame"
import { legalLinks } from "./legal"
import { type Picture, pictureTag } from "./picture"
import { amountCss, styleSheet } from "./style"
import { lines } from "./writer"

/** Where a funnel begins, as it is shown among others. */
export type Beginning = {
  /** Without the leading slash. */
  readonly path: string
  readonly title: string
  readonly about: string
  readonly picture: Picture | null
}

export type HomePage = {
  readonly school: SchoolSeen
  readonly zone: string
  readonly teachers: readonly TeacherCard[]
  readonly given: readonly Beginning[]
  /** With the next dates, ms. */
  readonly webinars: readonly (Beginning & { readonly dates: readonly number[] })[]
  /** With what they cost at a glance; empty: it can't be had now. */
  readonly courses: readonly (Beginning & { readonly amount: string; readonly note: string })[]
  /** Whoever recommends signs up there. */
  readonly more: readonly Beginning[]
}

const css =
  ".head{justify-content:space-between}.home{display:grid;gap:2rem clamp(2rem,5vw,4.5rem);padding-block:clamp(1rem,4vw,3.5rem)}.home p{max-width:34em}.home img{width:min(22rem,100%);aspect-ratio:1;object-fit:cover;margin:0}@media(min-width:44rem){.home:has(img){grid-template-columns:minmax(0,1.4fr) minmax(0,1fr);align-items:center}.home img{width:100%}}.home .above{color:var(--e);font-weight:600;margin:0 0 .6rem;font-size:1rem}"

const card = (b: Beginning, within: Html | "", says: string) => cardHtml(b, within, cardButton(b.path, says, b.title))

const band = (tone: string, title: string, cards: readonly Html[]) =>
  cards.length ? html`<div class="section ${tone}"><h2>${title}</h2><ul class="cards">${cards}</ul></div>` : ""

/** The whole page. Sections of which there is nothing are left out, and every other one of those that stay stands on a tint. */
export function homePage(p: HomePage, origin: string): { html: string; style: string } {
  const { school, zone } = p
  const style = styleSheet(school.look, { own: [amountCss, css, cardsCss], bands: ["tinted"] })
  const w = words.home
  const [first] = p.teachers
  const sections: readonly [string, readonly Html[]][] = [
    [w.given, p.given.map((b) => card(b, "", w.get))],
    [
      w.webinars,
      p.webinars.map((b) =>
        card(
          b,
          b.dates.length
            ? html`<p class="small">${b.dates.map((at) => html`${momentHtml(at, zone)}<br>`)}${words.home.zone(cityOf(zone))}</p>`
            : "",
          w.seat,
        ),
      ),
    ],
    [w.courses, p.courses.map((b) => card(b, cardPrice(b.amount, b.note), w.look))],
  ]
  const bands = sections.filter(([, cards]) => cards.length)
  const who = p.teachers.map(
    (t, i) =>
      html`<div class="home">${
        i === 0
          ? html`<div><p class="above" dir="auto">${t.name}</p><h1 dir="auto">${school.name}</h1>${lines(t.about)}</div>`
          : html`<div><h2 dir="auto">${t.name}</h2>${lines(t.about)}</div>`
      }${t.portrait && pictureTag(t.portrait, { as: "half", alt: words.page.portraitOf(t.name), first: i === 0 })}</div>`,
  )
  const sign = school.logo
    ? pictureTag(school.logo, { alt: school.name, as: "small", first: true })
    : html`<span dir="auto">${school.name}</span>`
  const about = first?.about.split(/\n/)[0] ?? ""
  const whole = html`${headOpen(school.name)}${about && html`<meta name="description" content="${about.slice(0, 300)}">`}<link rel="canonical" href="${origin}/">${headClose(school, style)}<header class="head">${sign}<a href="/learn">${w.learn}</a></header><main class="wide">${who[0] ?? html`<div class="home"><h1 dir="auto">${school.name}</h1></div>`}${bands.map(([title, cards], i) => band(i % 2 === 0 ? "tinted" : "plain", title, cards))}${bands.length ? "" : html`<p>${w.nothing}</p>`}${who.slice(1)}</main><footer dir="auto">${school.name}${p.more.map((b) => html` · <a href="/${b.path}">${b.title}</a>`)}${legalLinks(school.legal)}</footer></body></html>`
  return { html: whole.text, style }
}
