import * as v from "valibot"
import { type Finding, found } from "../../finding"
import { html } from "../../html"
import { isOurLink, leadsTo, refsOfTarget } from "../linked"
import { type BlockModule, type ButtonTarget, type CheckAt, id, line, reference } from "./kind"

export const target: v.GenericSchema<unknown, ButtonTarget> = v.variant("to", [
  v.object({ to: v.literal("outcome"), outcome: v.pipe(v.string(), v.regex(/^[a-z-]{1,20}$/)) }),
  v.object({ to: v.literal("form") }),
  v.object({ to: v.literal("step"), step: reference }),
  v.object({
    to: v.literal("link"),
    href: v.pipe(
      v.string(),
      v.maxLength(2000),
      v.check((href) => isOurLink(href) || /^https?:\/\/\S+$|^mailto:\S+@\S+$/i.test(href)),
    ),
  }),
])

const schema = v.object({
  id,
  kind: v.literal("button"),
  says: line,
  leads: v.nullable(target),
  note: v.optional(line),
})

export const button: BlockModule<v.InferOutput<typeof schema>> = {
  name: "button",
  schema,
  inFirst: "words",
  fresh: (id) => ({ id, kind: "button", says: "Go on", leads: null }),
  html(out, b, at) {
    const { mark, says } = at
    out.text(
      html`<p${mark} class="way"><a class="go"${says("says")} dir="auto" href="${leadsTo(b.leads, at) ?? "#"}">${b.says}</a>${b.note?.trim() ? html` <small${says("note")} dir="auto">${b.note}</small>` : ""}</p>`,
    )
  },
  mail: (b, { mark, says, href }) =>
    html`<table${mark} role="presentation" class="go" cellpadding="0" cellspacing="0" border="0"><tr><td><a${says("says")} href="${href(b.leads) ?? "#"}">${b.says}</a></td></tr></table>${b.note?.trim() ? html`<p class="note"${says("note")}>${b.note}</p>` : ""}`,
  refs: (b) => refsOfTarget(b.leads),
  gap: (b) => (b.says.trim() ? null : "a button on it says nothing"),
  check: (b, at) => unled(b, at),
  line: (b) => b.says,
  action: (b) => (b.leads?.to === "form" ? "form" : b.leads?.to === "outcome" ? b.leads.outcome : b.id),
}

/** What is wrong with a button that leads nowhere. */
export function unled(
  b: { readonly id: string; readonly says: string; readonly leads: ButtonTarget | null },
  { step, address }: CheckAt,
): Finding[] {
  if (b.leads?.to === "link" || address(b.leads) !== null) return []
  const at = { go: "page", step: step.id, block: b.id } as const
  return [found("button-without-target", step, { button: b.says, on: { step: step.name } }, at)]
}
