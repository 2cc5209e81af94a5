// The style sheet of published pages, in the look of the school: what every page has, and what stands on this one.
import { type Html, html } from "../html"
import { scrim } from "../look/colour"
import type { Band, Colour } from "../look/kind"
import type { Look } from "../look/look"
import { familyOf, type Pair, pairs, subsets, typefaces, typefacesOf } from "../look/typeface"
import { focusCss } from "./picture"

/** The class of what stands over a picture: its scrim is as strong as this picture needs. */
export const backClass = (media: number) => `back-${media}`

/** The scrims of pictures that stand behind words of a band, each as strong as its picture needs and not stronger. */
export function scrimCss(
  band: Band,
  pictures: Iterable<readonly [number, { readonly tones?: readonly [Colour, Colour] }]>,
): string {
  return [...pictures]
    .map(([id, p]) => {
      const tones = p.tones ?? ["#000000", "#FFFFFF"]
      const most = Math.max(...[band.ink, band.soft, band.accent].map((text) => scrim(text, band.ground, tones)))
      return `.${backClass(id)}{--scrim:${most}}`
    })
    .join("")
}

/** Asks for the fonts early, so that they are there for the first drawing; a late one waits for the next page. */
export function fontLinks(look: Look): Html[] {
  return typefacesOf(look.pair).map(
    (f) => html`<link rel="preload" as="font" type="font/woff2" href="/fonts/${f}-latin.woff2" crossorigin>`,
  )
}

/** Fonts come after the text and never shift what stands; letters beyond Latin-1 only where a page has them. */
export function fontFaces(look: Look): string {
  return typefacesOf(look.pair)
    .flatMap((f) =>
      Object.entries(subsets).map(
        ([subset, letters]) =>
          `@font-face{font-family:'${typefaces[f].name}';src:url(/fonts/${f}-${subset}.woff2);font-weight:${typefaces[f].weight};font-display:optional;unicode-range:${letters}}`,
      ),
    )
    .join("")
}

const colours = (b: Band) =>
  `--g:${b.ground};--c:${b.card};--i:${b.ink};--s:${b.soft};--l:${b.line};--a:${b.action};--o:${b.onAction};--e:${b.accent}`

/** Two bands after one another that would run into one are kept apart by their own air alone. */
const bandCss = (name: string, b: Band) => `.${name}{${colours(b)};background:var(--g);color:var(--i)}`

/** What is bought and read in boxes: fields, choices, forms. */
export const formCss = `form{margin-block:1.5rem;padding:1.4rem;background:var(--c);border-radius:var(--r)}label{display:block;font-weight:600;margin:0 0 .25rem}input,select,textarea{display:block;width:100%;font:inherit;font-size:1.0625rem;padding:.7rem .8rem;margin:0 0 1rem;border:1px solid var(--s);border-radius:var(--rf);background:var(--g);color:var(--i)}form .go{width:100%}.hp{position:absolute;left:-9999px}fieldset{border:0;padding:0;margin:0 0 1.25rem;min-width:0}legend{font-weight:600;padding:0;margin:0 0 .4rem}.pick{display:flex;gap:.7rem;align-items:flex-start;font-weight:400;padding:.7rem .8rem;border:1px solid var(--l);border-radius:var(--rf);background:var(--g);margin:0 0 .5rem;cursor:pointer}.pick input{width:1.15rem;height:1.15rem;margin:.25rem 0 0;flex:none;accent-color:var(--e)}.pick em{font-style:normal;color:var(--s);display:block}.pick>span{min-width:0;flex:1}.pick img{width:5rem;height:5rem;object-fit:cover;margin:0;flex:none;border-radius:var(--rf)}.pick:has(:checked){border-color:var(--e);box-shadow:inset 0 0 0 1px var(--e)}`

/** An amount at a glance, the largest in its card. */
export const amountCss = `.amount{display:block;font:var(--wd) clamp(2.4rem,5vw,3.25rem)/1.1 var(--fd);letter-spacing:-.01em;font-variant-numeric:tabular-nums}`

/** What is shown on a phone alone, or on anything wider. */
export const onCss =
  "@media(min-width:44rem){[data-on=phone]{display:none!important}}@media(max-width:43.99rem){[data-on=desktop]{display:none!important}}"

/** Where in the way a buyer is. */
export const wayCss = `.steps{display:flex;gap:.5rem;list-style:none;padding:0;margin-block:1.5rem 1.75rem;font-size:.95rem;color:var(--s)}.steps li{flex:1;border-top:4px solid var(--l);padding:.35rem 0 0;margin:0}.steps li[aria-current]{border-color:var(--e);color:var(--i);font-weight:600}`

const base = `*{box-sizing:border-box}${focusCss}
body{margin:0;background:var(--g);color:var(--i);font:1.125rem/1.6 var(--ft);-webkit-text-size-adjust:100%;--x:max(1.375rem,50% - 20rem)}
h1,h2,h3{font-family:var(--fd);font-weight:var(--wd);text-wrap:balance;overflow-wrap:anywhere;margin-block:0 1rem}h1{font-size:var(--h1);line-height:var(--lh);letter-spacing:var(--ls);hyphens:auto}h1:dir(rtl){line-height:1.35;letter-spacing:0}.long{font-size:calc(var(--h1)*.86)}h2{font-size:calc(var(--h1)*.62);line-height:1.15;letter-spacing:-.01em;margin-block-start:clamp(2rem,5vw,3.5rem)}h3,.title{font:var(--wd) 1.25rem/1.25 var(--fd);margin-block:0 .4rem}
p,ul,ol{margin-block:0 1rem;overflow-wrap:anywhere;text-wrap:pretty}ul,ol{padding-inline-start:1.3rem}li{margin:.3rem 0}li::marker{color:var(--e)}
a{color:var(--e)}
img,video{display:block;max-width:100%;height:auto;border-radius:var(--rp);margin-block:0 1.25rem}
main{display:flow-root;padding-bottom:clamp(2.5rem,6vw,4.5rem)}main>*,.rest>*,body>.head,footer{margin-inline:var(--x)}main.wide{--x:max(1.375rem,50% - 36rem)}body:has(main.wide){--x:max(1.375rem,50% - 36rem)}main:not(:has(>.first)){padding-top:clamp(1.5rem,4vw,3rem)}.rest{margin:0!important}main:has(>.rest){padding-bottom:0}:is(main,.rest)>:is(p,ul,ol,h2,form,.way),.section>:is(p,ul,ol){max-width:40rem}
.head{display:flex;align-items:center;gap:.8rem;min-height:3.75rem;font-family:var(--fd);font-weight:var(--wd)}.head img{height:2.25rem;width:auto;margin:0;border-radius:0}
.section{margin-block:2rem;padding:1.5rem 1.25rem;border-radius:var(--r)}main>.section,.rest>.section{margin:clamp(1.5rem,5vw,3rem) 0;padding:clamp(2.75rem,6vw,5rem) var(--x);border-radius:0}.section+.section{margin-top:clamp(-3rem,-5vw,-1.5rem)}main>.section:last-child,main:not(:has(.rest))>.section:last-child{margin-bottom:clamp(-4.5rem,-6vw,-2.5rem)}main>.first+.section{margin-top:0}div.section:not(:has(*)){display:none}.section>:first-child,.section>div>h2:first-child{margin-top:0}.section>:last-child{margin-bottom:0}
.go{display:inline-block;border:0;border-radius:var(--rb);background:var(--a);color:var(--o);font:600 1.125rem/1.3 var(--ft);padding:.95rem 1.7rem;text-decoration:none;cursor:pointer}.go:hover{filter:brightness(1.08)}.go:disabled{opacity:.6;cursor:wait}:focus-visible{outline:3px solid var(--e);outline-offset:3px}.way{margin-block:1.5rem}.way small{display:inline-block;margin:.6rem 1rem 0;color:var(--s);font-size:1rem}
.small{color:var(--s);font-size:1rem;margin-block:.75rem 0}.wrong{border-inline-start:4px solid var(--e);padding:.25rem .75rem;margin-block:0 1rem;font-weight:600}.sentence{font-size:1.0625rem}
.plain{border:0;background:none}button.plain{font:inherit;color:var(--e);text-decoration:underline;cursor:pointer;min-height:2.75rem}
footer{padding:1rem 0 2rem;color:var(--s);font-size:1rem;border-top:1px solid var(--l)}
@media(max-width:30em){.way .go{display:block;text-align:center}.way small{display:block;text-align:center}}
@media print{.head,.reach{display:none}.section,.first{background:none!important;color:#000}}`

/** The first screen, in the arrangements that a page of this look has. */
const first = `.above{color:var(--e);font-weight:600;margin-block:0 .6rem;font-size:1rem}.first{margin:0!important;padding:clamp(1.5rem,5vw,4.5rem) var(--x);display:grid;gap:2rem clamp(2rem,5vw,4.5rem)}.first>*{min-width:0}.first .words>:last-child,.first .show>:last-child{margin-bottom:0}.first p{max-width:34em}.first form{margin-block:1rem 0}.first .show img{object-fit:cover}@media(max-width:55.99rem){.first .show img{width:100%;max-height:75vh}.words:has(form)>img,.form .words>img{display:none}}`
const firsts: Readonly<Record<string, string>> = {
  words: "",
  beside:
    "@media(min-width:56rem){.beside.first{grid-template-columns:minmax(0,1.08fr) minmax(0,1fr);align-items:center}.beside .show :is(img,video){width:100%;aspect-ratio:1/1.08;object-fit:cover}.beside .show video{aspect-ratio:16/9}}",
  form: "@media(min-width:56rem){.form.first{grid-template-columns:minmax(0,1.1fr) minmax(0,1fr);align-items:center}.form .words>img{aspect-ratio:16/9;object-fit:cover;width:100%;margin-top:1.5rem}}",
  behind:
    ".head:has(+main>.behind){position:absolute;inset-inline:0;z-index:1}.behind.first{position:relative;isolation:isolate;min-height:min(46rem,92vh);align-items:end;padding-top:6rem;background:var(--g)}.behind .show{position:absolute;inset:0;z-index:-1;overflow:hidden}.behind .show :is(img,video){width:100%;height:100%;object-fit:cover;border-radius:0;margin:0;filter:none}.behind .show::after{content:'';position:absolute;inset:0;background:var(--g);opacity:var(--scrim,.8)}.behind .words{max-width:36rem}@media(min-width:56rem){.behind .show::after{background:linear-gradient(90deg,var(--g) calc(var(--x) + 37rem),color-mix(in srgb,var(--g) 40%,#0000))}}",
  centred:
    ".centred.first{text-align:center;justify-items:center}.centred p,.centred h1{margin-inline:auto;max-width:24em}.centred h1{max-width:18em}.centred form{text-align:start;max-width:30rem;margin-inline:auto}@media(min-width:40rem){.centred .show{order:-1}.centred .show video{width:min(44rem,80vw)}}",
}

/**
 * The whole style sheet of a page, minified. `blocks`: the kinds of block that stand on it, `own`: what those bring, `arrangement`: the first
 * screen's. A look's own rules come last.
 */
export function styleSheet(
  look: Look,
  { blocks = [], own = [formCss, amountCss], arrangement = null, bands = ["tinted"], loud = false }: Sheet = {},
): string {
  const pair: Pair = pairs[look.pair]
  const { corners, headline } = look
  const of = (name: string) => look.forms?.[name] ?? ""
  return [
    fontFaces(look),
    `:root{${colours(look.bands.plain)};--fd:${familyOf(pair.display)};--ft:${familyOf(pair.text)};--fl:${familyOf(pair.label ?? pair.text)};--wd:${typefaces[pair.display].weight.includes(" ") ? 650 : typefaces[pair.display].weight};--r:${corners.box};--rf:${corners.field};--rb:${corners.button};--rp:${corners.picture};--h1:${headline.size};--lh:${headline.leading};--ls:${headline.tracking}}`,
    base,
    ...new Set(own),
    arrangement ? first + firsts[arrangement] : "",
    bands.includes("tinted") ? bandCss("tinted", look.bands.tinted) : "",
    bands.includes("dark") ? bandCss("dark", look.bands.dark) : "",
    loud && arrangement && look.bands.first ? bandCss("first", look.bands.first) : "",
    look.headline.capitals ? "h1{text-transform:uppercase}" : "",
    look.css,
    arrangement ? of("first") : "",
    ...new Set(blocks.map(of)),
  ].join("")
}

export type Sheet = {
  readonly blocks?: readonly string[]
  readonly own?: readonly string[]
  readonly arrangement?: string | null
  readonly bands?: readonly string[]
  /** Whether the first screen is the look's own band, where it has one. */
  readonly loud?: boolean
}
