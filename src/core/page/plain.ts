// The small pages that are the product's own and not the marketer's: press here, back in a moment, nothing stands here.
import { escapeHtml } from "../html"
import type { Look } from "../look"
import { scripts } from "./scripts"
import { styleSheet } from "./style"

export type PlainPage = {
  readonly title: string
  readonly paragraphs: readonly string[]
  /** Forms, in order: each a button, with what it sends along. */
  readonly forms?: readonly {
    readonly action: string
    readonly button: string
    readonly hidden?: Readonly<Record<string, string>>
    readonly heading?: string
    readonly select?: {
      readonly name: string
      readonly label: string
      readonly options: readonly string[]
      readonly value: string
    }
  }[]
  readonly links?: readonly { readonly href: string; readonly says: string }[]
}

export function plainPage(
  page: PlainPage,
  school: string,
  look: Look,
): { html: string; style: string; script: string } {
  const style = styleSheet(look)
  const forms = (page.forms ?? []).map((f) => {
    const hidden = Object.entries(f.hidden ?? {}).map(
      ([k, v]) => `<input type="hidden" name="${escapeHtml(k)}" value="${escapeHtml(v)}">`,
    )
    const select = f.select
      ? `<label for="${f.select.name}">${escapeHtml(f.select.label)}</label><select id="${f.select.name}" name="${f.select.name}">${f.select.options.map((o) => `<option${o === f.select!.value ? " selected" : ""}>${escapeHtml(o)}</option>`).join("")}</select>`
      : ""
    return `<form method="post" action="${escapeHtml(f.action)}">${f.heading ? `<p>${escapeHtml(f.heading)}</p>` : ""}${hidden.join("")}${select}<button class="go">${escapeHtml(f.button)}</button></form>`
  })
  const links = (page.links ?? []).map((l) => `<p><a href="${escapeHtml(l.href)}">${escapeHtml(l.says)}</a></p>`)
  const script = forms.length ? scripts.once : ""
  const html =
    `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><meta name="robots" content="noindex"><meta name="referrer" content="no-referrer"><link rel="icon" href="data:,"><title>${escapeHtml(page.title)}</title><style>${style}</style></head>` +
    `<body><main><h1>${escapeHtml(page.title)}</h1>${page.paragraphs.map((p) => `<p>${escapeHtml(p)}</p>`).join("")}${forms.join("")}${links.join("")}</main><footer>${escapeHtml(school)}</footer>${script ? `<script>${script}</script>` : ""}</body></html>`
  return { html, style, script }
}
