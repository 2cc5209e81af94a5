// How e-mails look: the school's colours as styles on every element, since many mail programs read no style sheet, and darker ones
// for those that do and are set to dark.
import juice from "juice"
import type { Look } from "../look/look"
import { type Dress, dressOf, framed, mailSheet } from "./sheet"

/** Only colours change: what is inlined can be overruled by nothing else. A logo was drawn for the ground by day, and keeps it. */
function darkSheet(d: Dress, day: Dress): string {
  return `@media (prefers-color-scheme:dark){body,.ground{background-color:${d.ground}!important}.sheet{color:${d.ink}!important}a{color:${d.accent}!important}blockquote{color:${d.soft}!important;border-color:${d.line}!important}hr,.head{border-color:${d.line}!important}.head{color:${d.ink}!important}.logo{background-color:${day.ground}!important;padding:6px}.go td{background-color:${d.action}!important}.go a{color:${d.onAction}!important}.foot,.foot a,.above,.note{color:${d.soft}!important}.price{border-color:${d.line}!important}.box td{background-color:${d.card}!important}}`
}

/** A mail's whole HTML around its content, with every style where it counts. */
export function dressed(content: string, lang: string, look: Look): string {
  const { day, dark } = dressOf(look)
  const html =
    `<!doctype html><html lang="${lang}"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1">` +
    `<meta name="color-scheme" content="light dark"><meta name="supported-color-schemes" content="light dark"><style data-embed>${darkSheet(dark, day)}</style></head>` +
    `<body style="margin:0">${framed(content)}</body></html>`
  return juice.inlineContent(html, mailSheet(day, look), {
    preserveMediaQueries: true,
    applyAttributesTableElements: false,
  })
}
