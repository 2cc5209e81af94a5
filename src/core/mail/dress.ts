// How e-mails look: the school's colours as styles on every element, since many mail programs read no style sheet, and darker ones
// for those that do and are set to dark.
import juice from "juice"
import type { Band } from "../look/kind"
import { isDark, type Look } from "../look/look"
import { familyOf, pairs } from "../look/typeface"
import { widest } from "./body"

type Dress = Band

/** By day and where its reader has chosen dark; a dark look keeps its own. */
export const dressOf = (look: Look): { readonly day: Dress; readonly dark: Dress } => ({
  day: look.bands.plain,
  dark: isDark(look) ? look.bands.plain : look.bands.dark,
})

function sheet(d: Dress, look: Look): string {
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
.foot,.foot a{color:${d.soft};font-size:13px;line-height:1.5}`
}

/** Mail programs round all corners of a button alike. */
const buttonCorner = (look: Look) => look.corners.button.split(" ")[0]!

/** Only colours change: what is inlined can be overruled by nothing else. A logo was drawn for the ground by day, and keeps it. */
function darkSheet(d: Dress, day: Dress): string {
  return `@media (prefers-color-scheme:dark){body,.ground{background-color:${d.ground}!important}.sheet{color:${d.ink}!important}a{color:${d.accent}!important}blockquote{color:${d.soft}!important;border-color:${d.line}!important}hr,.head{border-color:${d.line}!important}.head{color:${d.ink}!important}.logo{background-color:${day.ground}!important;padding:6px}.go td{background-color:${d.action}!important}.go a{color:${d.onAction}!important}.foot,.foot a{color:${d.soft}!important}}`
}

/** A mail's whole HTML around its content, with every style where it counts. */
export function dressed(content: string, lang: string, look: Look): string {
  const { day, dark } = dressOf(look)
  const html =
    `<!doctype html><html lang="${lang}"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1">` +
    `<meta name="color-scheme" content="light dark"><meta name="supported-color-schemes" content="light dark"><style data-embed>${darkSheet(dark, day)}</style></head>` +
    `<body style="margin:0"><table role="presentation" class="ground" cellpadding="0" cellspacing="0" border="0"><tr><td align="center">` +
    `<table role="presentation" class="sheet-frame" width="100%" style="max-width:${widest + 40}px" cellpadding="0" cellspacing="0" border="0"><tr><td class="sheet">${content}</td></tr></table>` +
    `</td></tr></table></body></html>`
  return juice.inlineContent(html, sheet(day, look), {
    preserveMediaQueries: true,
    applyAttributesTableElements: false,
  })
}
