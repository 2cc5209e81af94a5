// How an e-mail looks, and what stands around its words: the school's colours by day, as rules.
import { escapeHtml } from "../html"
import type { Band } from "../look/kind"
import { isDark, type Look } from "../look/look"
import { familyOf, pairs } from "../look/typeface"
import { widest } from "./body"

export type Dress = Band

/** By day and where its reader has chosen dark; a dark look keeps its own. */
export const dressOf = (look: Look): { readonly day: Dress; readonly dark: Dress } => ({
  day: look.bands.plain,
  dark: isDark(look) ? look.bands.plain : look.bands.dark,
})

export function mailSheet(d: Dress, look: Look): string {
  const pair = pairs[look.pair]
  return `body,.ground{background-color:${d.ground}}
.ground{width:100%}
.sheet{width:100%;max-width:${widest + 40}px;padding:24px 20px;color:${d.ink};font:16px/1.6 ${familyOf(pair.text)};text-align:left}
p{margin:0 0 16px}
.head{margin:0 0 24px;padding:0 0 14px;border-bottom:1px solid ${d.line};font:bold 18px/1.3 ${familyOf(pair.display)};color:${d.ink}}
.logo{display:block;border:0;max-width:100%}
h2,h3{font-family:${familyOf(pair.display)}}
h2{margin:28px 0 10px;font-size:22px;line-height:1.25}
h3{margin:22px 0 8px;font-size:18px;line-height:1.3}
ul,ol{margin:0 0 16px;padding:0 0 0 24px}
li{margin:0 0 4px}
blockquote{margin:0 0 16px;padding:0 0 0 14px;border-left:3px solid ${d.line};color:${d.soft}}
hr{border:0;border-top:1px solid ${d.line};margin:28px 0 16px}
a{color:${d.accent}}
.picture{display:block;max-width:100%;height:auto;margin:0 0 16px;border:0;border-radius:6px}
.go{margin:24px 0}
.go td{background-color:${d.action};border-radius:${buttonCorner(look)};text-align:center}
.go a{display:inline-block;padding:12px 22px;color:${d.onAction};text-decoration:none;font-weight:bold}
.above,.note{color:${d.soft};font-size:14px}
.above{margin:0 0 4px}
.price{padding:14px 18px;border:1px solid ${d.line};border-radius:6px}
.ends{font-weight:bold}
.cells{margin:0 0 16px;font-size:0}
.cell{display:inline-block;width:100%;vertical-align:top;font-size:16px}
.in{padding:0 16px 0 0}
.box{margin:0 0 16px}
.box td{padding:18px 20px;background-color:${d.card};border-radius:6px}
.signed{font-family:${familyOf(pair.display)};font-size:22px}
.foot,.foot a{color:${d.soft};font-size:13px;line-height:1.5}`
}

/** Mail programs round all corners of a button alike. */
const buttonCorner = (look: Look) => look.corners.button.split(" ")[0]!

/** Content in the middle of its ground, no wider than an e-mail is read. */
export const framed = (content: string) =>
  `<table role="presentation" class="ground" cellpadding="0" cellspacing="0" border="0"><tr><td align="center">` +
  `<table role="presentation" class="sheet-frame" width="100%" style="max-width:${widest + 40}px" cellpadding="0" cellspacing="0" border="0"><tr><td class="sheet">${content}</td></tr></table>` +
  `</td></tr></table>`

/** How high a logo stands above an e-mail, pixels. */
const logoHigh = 36

export const logoImage = (
  logo: { readonly url: string; readonly width: number; readonly height: number },
  school: string,
) =>
  `<img class="logo" src="${escapeHtml(logo.url)}" width="${Math.round((logoHigh * logo.width) / logo.height)}" height="${logoHigh}" alt="${escapeHtml(school)}">`
