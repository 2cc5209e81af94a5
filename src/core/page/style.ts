// The style sheet of published pages, in the look of the school.
import { type Html, html } from "../html"
import { type Look, looks } from "../look"

/** Asks for the fonts early, so that they are there for the first drawing; a late one waits for the next page. */
export function fontLinks(look: Look): Html[] {
  const files = looks[look].heading.startsWith("'Bricolage") ? ["public-sans", "bricolage-grotesque"] : ["public-sans"]
  return files.map((f) => html`<link rel="preload" as="font" type="font/woff2" href="/fonts/${f}.woff2" crossorigin>`)
}

/**
 * A page that begins with a headline and a picture, with a text between them or without: on a desktop the picture stands beside, also
 * below what is put above the headline (where one is in the way, or a line for this visitor).
 */
const beside = "main:has(>h1+img,>h1+div+img)"

/** The whole style sheet of a page, minified by hand. Fonts come after and never shift what stands. */
export function styleSheet(look: Look): string {
  const l = looks[look]
  const corner = l.radius === "999px" ? "12px" : l.radius
  return `@font-face{font-family:'Public Sans';src:url(/fonts/public-sans.woff2) format('woff2');font-weight:100 900;font-display:optional}
@font-face{font-family:'Bricolage Grotesque';src:url(/fonts/bricolage-grotesque.woff2) format('woff2');font-weight:200 800;font-display:optional}
*{box-sizing:border-box}
body{margin:0;background:${l.ground};color:${l.ink};font:1.0625rem/1.6 'Public Sans',system-ui,sans-serif;-webkit-text-size-adjust:100%}
main{display:grid;grid-template-columns:[full-start]minmax(1.375rem,1fr) [wide-start]minmax(0,14rem)[text-start]min(100% - 2.75rem,40rem)[text-end]minmax(0,14rem)[wide-end]minmax(1.375rem,1fr)[full-end];padding:clamp(2rem,6vw,4.5rem) 0}main>*{grid-column:text;min-width:0}
h1,h2{font-family:${l.heading};line-height:1.12;letter-spacing:-.01em;margin:0 0 1rem;text-wrap:balance;overflow-wrap:anywhere}
h1{font-size:clamp(2.4rem,5.4vw,3.75rem)}h2{font-size:clamp(1.6rem,3.8vw,2.5rem);margin-top:clamp(2rem,5vw,3.5rem)}
p,ul,ol{margin:0 0 1rem;overflow-wrap:anywhere}ul,ol{padding-left:1.3rem}li{margin:.3rem 0}li::marker{color:${l.action}}
a{color:${l.action}}
img{display:block;max-width:100%;height:auto;border-radius:${corner};margin:0 0 1.25rem}
.section{margin:2rem 0;padding:1.5rem 1.25rem;border-radius:12px}main>.section{grid-column:full;display:grid;grid-template-columns:subgrid;border-radius:0;margin:clamp(1.5rem,5vw,3.5rem) 0;padding:clamp(2.75rem,6vw,5rem) 0}main>.section>*{grid-column:text;min-width:0}.tinted{background:${l.raised}}.section>:first-child{margin-top:0}.section>:last-child{margin-bottom:0}
.go{display:inline-block;border:0;border-radius:${l.radius};background:${l.action};color:${l.onAction};font:600 1.0625rem/1.3 'Public Sans',system-ui,sans-serif;padding:.9rem 1.6rem;text-decoration:none;cursor:pointer}
.go:hover{filter:brightness(1.08)}:focus-visible{outline:3px solid ${l.action};outline-offset:3px}
.way{margin:1.5rem 0}
form{margin:1.5rem 0;padding:1.25rem;background:${l.raised};border-radius:12px}
label{display:block;font-weight:600;margin:0 0 .25rem}
input,select{display:block;width:100%;font:inherit;font-size:1.0625rem;padding:.7rem .8rem;margin:0 0 1rem;border:1px solid ${l.soft};border-radius:6px;background:${l.ground};color:${l.ink}}
form .go{width:100%}
.small{color:${l.soft};font-size:.9rem;margin:.75rem 0 0}
.wrong{border-left:4px solid ${l.action};padding:.25rem 0 .25rem .75rem;margin:0 0 1rem;font-weight:600}
.lessons{list-style:none;padding:0;counter-reset:l}.lessons li{counter-increment:l;display:flex;gap:.75rem;padding:.7rem 0;border-top:1px solid ${l.line};margin:0}.lessons li::before{content:counter(l);font-weight:700;color:${l.action};min-width:1.2em}.lessons .m{margin-left:auto;color:${l.soft};white-space:nowrap}
.amount{display:block;font:700 clamp(2rem,5vw,2.75rem)/1.1 ${l.heading};letter-spacing:-.01em;font-variant-numeric:tabular-nums}.price{margin:2rem 0}.price>p{margin:0 0 .75rem}.ways{list-style:none;padding:0;display:grid;grid-template-columns:repeat(auto-fit,minmax(min(17rem,100%),1fr));gap:1rem;margin:0}.ways li{margin:0;padding:1.25rem 1.4rem;border:1px solid ${l.line};border-radius:${corner};background:${l.ground}}.ways li:first-child{border:2px solid ${l.action}}.ways span{display:block;margin:.5rem 0 0;color:${l.soft};font-size:1rem}.ways strong{display:block}.price>.note{font-weight:600;margin:.75rem 0 0}
fieldset{border:0;padding:0;margin:0 0 1.25rem;min-width:0}legend{font-weight:600;padding:0;margin:0 0 .4rem}
.pick{display:flex;gap:.7rem;align-items:flex-start;font-weight:400;padding:.7rem .8rem;border:1px solid ${l.line};border-radius:8px;background:${l.ground};margin:0 0 .5rem;cursor:pointer}.pick input{width:1.15rem;height:1.15rem;margin:.25rem 0 0;flex:none;accent-color:${l.action}}.pick em{font-style:normal;color:${l.soft};display:block}.pick>span{min-width:0;flex:1}.pick img{width:5rem;height:5rem;object-fit:cover;margin:0;flex:none}.pick:has(:checked){border-color:${l.action};box-shadow:inset 0 0 0 1px ${l.action}}.terms strong{display:block}.terms .amount{font-size:1.75rem;margin:.1rem 0 .25rem}.terms span span{color:${l.soft};font-size:1rem}#checkout{grid-column:wide;background:none;padding:0;display:grid;gap:1.5rem clamp(1.5rem,4vw,3.5rem);align-items:start}.bought{background:${l.raised};border-radius:${corner};padding:1.4rem}.bought>p{margin:0 0 .75rem}.bought .sentence{font-weight:400;font-size:1rem}.today{display:flex;justify-content:space-between;align-items:baseline;gap:1rem;border-top:1px solid ${l.line};padding:1rem 0 0;font-weight:600}@media(min-width:56rem){#checkout{grid-template-columns:minmax(0,1fr) minmax(0,24rem)}.bought{position:sticky;top:1.5rem}.terms{display:grid;grid-template-columns:1fr 1fr;gap:.75rem}.terms legend{float:left;grid-column:1/-1}.terms .pick{margin:0}}.yes .amount{margin:0 0 .5rem}main:has(>#checkout)>*{grid-column:wide}main:has(>#checkout)+footer{margin-inline:max(1.375rem,50% - 34rem)}@media(min-width:60rem){${beside}+footer{margin-inline:max(1.375rem,50% - 34rem)}${beside}{grid-template-columns:[full-start]minmax(1.375rem,1fr) [wide-start text-start]minmax(0,36rem)[text-end]minmax(0,32rem)[wide-end]minmax(1.375rem,1fr)[full-end]}${beside}>img:first-of-type{grid-column:text-end/wide-end;grid-row:1/span 5;margin:0 0 0 3.5rem;width:calc(100% - 3.5rem);max-width:none;aspect-ratio:1;object-fit:cover}${beside}:not(:has(>h1:first-child))>img:first-of-type{grid-row:2/span 5}${beside}>:is(.steps,.price),${beside}>.section>:is(.lessons,.price){grid-column:wide}${beside} .lessons{columns:2;column-gap:3rem}.lessons li{break-inside:avoid}${beside}>.price:has(>img){display:grid;grid-template-columns:minmax(0,1fr) minmax(0,2fr);gap:0 2rem;align-content:start}${beside}>.price>img{grid-row:1/9}}
textarea{display:block;width:100%;font:inherit;padding:.7rem .8rem;margin:0 0 1rem;border:1px solid ${l.soft};border-radius:6px;background:${l.ground};color:${l.ink}}
iframe{display:block;width:100%;height:250px;border:1px solid ${l.line};border-radius:8px;background:#fffdf8;margin:0 0 .25rem}#card{margin:0 0 1.25rem}
details{margin:0 0 1.25rem}summary{cursor:pointer}.code{display:flex;gap:.5rem;margin:.5rem 0 0}.code input{margin:0}.code button{font:inherit;border:1px solid ${l.soft};border-radius:6px;background:${l.ground};color:${l.ink};padding:0 1rem;cursor:pointer;white-space:nowrap}
.off{font-weight:600;color:${l.action};margin:0 0 .4rem}.sentence{font-size:1.0625rem}.rows{list-style:none;padding:0}.rows li{border-top:1px solid ${l.line};padding:.5rem 0;margin:0}.go:disabled{opacity:.6;cursor:wait}
.no{background:none;padding:0;text-align:center;margin:.75rem 0}.plain{border:0;background:none;font:inherit;color:${l.action};text-decoration:underline;cursor:pointer;min-height:2.75rem}
.steps{display:flex;gap:.5rem;list-style:none;padding:0;margin:0 0 1.75rem;font-size:.95rem;color:${l.soft}}.steps li{flex:1;border-top:4px solid ${l.line};padding:.35rem 0 0;margin:0}.steps li[aria-current]{border-color:${l.action};color:${l.ink};font-weight:600}
.has{padding:.8rem 1rem;border:2px solid ${l.action};border-radius:8px}video{display:block;width:100%;border-radius:12px;margin:0 0 1.25rem;background:#000}
.hp{position:absolute;left:-9999px}
footer{margin:0 max(1.375rem,50% - 20rem);padding:1rem 0 2rem;color:${l.soft};font-size:.85rem;border-top:1px solid ${l.line}}`
}
