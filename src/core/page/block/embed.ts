import * as v from "valibot"
import { html } from "../../html"
import { words } from "../../words/en"
import { type BlockModule, id, line } from "./kind"

const schema = v.object({
  id,
  kind: v.literal("embed"),
  url: v.pipe(v.string(), v.trim(), v.maxLength(1_000)),
  says: line,
})

/** The host of an address that may be shown within a lesson: https alone, without a name and password; null: it may not. */
export function embeddedHost(url: string): string | null {
  if (!URL.canParse(url)) return null
  const { protocol, username, password, host } = new URL(url)
  return protocol === "https:" && !username && !password ? host : null
}

/** Something of another site, asked for once whoever is there wants it, and not before. */
export const embed: BlockModule<v.InferOutput<typeof schema>> = {
  name: "embed",
  schema,
  inLessons: true,
  fresh: (id) => ({ id, kind: "embed", url: "", says: "" }),
  html(out, b, { mark, lesson, editing }) {
    if (lesson) return out.part({ part: "embed", block: b.id })
    const host = embeddedHost(b.url)
    if (host)
      out.text(
        html`<details${mark} class="embed"><summary>${b.says && html`<strong dir="auto">${b.says}</strong> `}<span>${words.page.showFrom(host)}</span></summary><iframe src="${b.url}" title="${b.says || host}" loading="lazy" sandbox="allow-scripts allow-same-origin allow-forms allow-popups allow-presentation" allow="fullscreen" referrerpolicy="no-referrer"></iframe></details>`,
      )
    else if (editing) out.text(html`<p${mark} class="small">Something of another site comes here.</p>`)
  },
  css: [
    ".embed{margin-block:1.25rem;border:1px solid var(--l);border-radius:var(--r);background:var(--c);overflow:hidden}.embed summary{padding:1.1rem 1.25rem;cursor:pointer}.embed summary strong{display:block}.embed summary span{color:var(--e);text-decoration:underline}.embed iframe{display:block;width:100%;aspect-ratio:16/9;border:0}",
  ],
  frames: (b) => embeddedHost(b.url),
  refs: () => [],
  gap: (b) => (b.url === "" ? "an address is missing" : embeddedHost(b.url) ? null : "an address isn't one of https"),
  gapSays: "Paste the address, or remove it",
  text: (b) => b.says,
  line: (b) => b.says || (embeddedHost(b.url) ?? "embed"),
}
