import * as v from "valibot"
import { type Finding, found } from "../../finding"
import { html } from "../../html"
import { refTo } from "../../reference"
import { type BlockModule, type ButtonTarget, type CheckAt, id, line, reference } from "./kind"

export const target: v.GenericSchema<unknown, ButtonTarget> = v.variant("to", [
  v.object({ to: v.literal("outcome"), outcome: v.pipe(v.string(), v.regex(/^[a-z-]{1,20}$/)) }),
  v.object({ to: v.literal("form") }),
  v.object({ to: v.literal("step"), step: reference }),
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
  html(out, b, { mark, address, says }) {
    out.text(
      html`<p${mark} class="way"><a class="go"${says("says")} dir="auto" href="${address(b.leads) ?? "#"}">${b.says}</a>${b.note?.trim() ? html` <small${says("note")} dir="auto">${b.note}</small>` : ""}</p>`,
    )
  },
  refs: (b) => refTo("step", b.leads?.to === "step" ? b.leads.step : null, "leads to it"),
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
  if (address(b.leads) !== null) return []
  const at = { go: "page", step: step.id, block: b.id } as const
  return [found("button-without-target", step, { button: b.says, on: { step: step.name } }, at)]
}
