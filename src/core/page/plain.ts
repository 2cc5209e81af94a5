// The small pages that are the product's own and not the marketer's: press here, back in a moment, nothing stands here.
import { html, raw } from "../html"
import { hiddenHead, type SchoolSeen, schoolHead } from "./frame"
import { legalLinks } from "./legal"
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
    /** What may be agreed to along with it. */
    readonly check?: { readonly name: string; readonly label: string }
    readonly select?: {
      readonly name: string
      readonly label: string
      readonly options: readonly string[]
      readonly value: string
    }
  }[]
  readonly links?: readonly { readonly href: string; readonly says: string }[]
}

export function plainPage(page: PlainPage, school: SchoolSeen): { html: string; style: string; script: string } {
  const style = styleSheet(school.look)
  const forms = (page.forms ?? []).map((f) => {
    const hidden = Object.entries(f.hidden ?? {}).map(([k, v]) => html`<input type="hidden" name="${k}" value="${v}">`)
    const select = f.select
      ? html`<label for="${f.select.name}">${f.select.label}</label><select id="${f.select.name}" name="${f.select.name}">${f.select.options.map((o) => html`<option${o === f.select!.value ? " selected" : ""}>${o}</option>`)}</select>`
      : ""
    return html`<form method="post" action="${f.action}">${f.heading ? html`<p>${f.heading}</p>` : ""}${hidden}${select}${f.check ? html`<label class="pick"><input type="checkbox" name="${f.check.name}" value="1"> <span>${f.check.label}</span></label>` : ""}<button class="go">${f.button}</button></form>`
  })
  const links = (page.links ?? []).map((l) => html`<p><a href="${l.href}">${l.says}</a></p>`)
  const script = forms.length ? scripts.once : ""
  const whole = html`${hiddenHead(school, page.title, style)}${schoolHead(school)}<main><h1>${page.title}</h1>${page.paragraphs.map((p) => html`<p>${p}</p>`)}${forms}${links}</main><footer dir="auto">${school.name}${legalLinks(school.legal)}</footer>${script ? html`<script>${raw(script)}</script>` : ""}</body></html>`
  return { html: whole.text, style, script }
}
