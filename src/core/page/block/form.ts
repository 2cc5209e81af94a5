import * as v from "valibot"
import { html } from "../../html"
import type { AskedField, Field } from "../../person/field"
import { refTo } from "../../reference"
import { words } from "../../words/en"
import type { Page } from "../document"
import { formCss } from "../style"
import { allBlocks } from "../walk"
import { type BlockModule, id, line, reference } from "./kind"

const schema = v.object({
  id,
  kind: v.literal("form"),
  says: line,
  askName: v.boolean(),
  consent: v.pipe(v.string(), v.maxLength(600)),
  /** Fields that are asked for besides, in their order. */
  fields: v.optional(v.pipe(v.array(v.object({ field: reference, required: v.boolean() })), v.maxLength(10))),
  // Double opt-in: what was joined begins only with the press in the mailbox. Pages from before had no choice.
  confirm: v.optional(v.boolean(), true),
  // Taken from pages of other sites, too, where the marketer has the same form.
  foreign: v.optional(v.boolean(), false),
})
export type FormBlock = v.InferOutput<typeof schema>

/** Takes an address, and a first name where it is asked for. */
export const form: BlockModule<FormBlock> = {
  name: "form",
  schema,
  inFirst: "form",
  onlyWhere: "asked",
  fresh: (id) => ({
    id,
    kind: "form",
    says: "Join",
    askName: true,
    consent: "Send me the lessons by e-mail. I can leave at any time.",
    confirm: true,
    foreign: false,
  }),
  html(out, b, { path, context, mark, webinar, takesSeat, recruits, says }) {
    out.text(html`<form${mark} id="join" method="post" action="/${path}">`)
    out.slot("error")
    if (takesSeat) {
      if (context.release !== 0 && webinar !== null) out.part({ part: "dates", webinar })
      else out.text(html`<p class="section tinted">${words.page.datesSample}</p>`)
    }
    if (b.askName) {
      out.text(
        html`<label for="name">${words.page.firstName}</label><input id="name" name="name" autocomplete="given-name" maxlength="80" value="`,
      )
      out.slot("name")
      out.text(html`">`)
    }
    out.text(
      html`<label for="email">${words.page.email}</label><input id="email" name="email" type="email" required autocomplete="email" inputmode="email" maxlength="254" value="`,
    )
    out.slot("email")
    out.text(html`">`)
    for (const ask of askedFields(b, context.fields ?? [])) out.ask(ask)
    if (recruits !== null && context.release !== 0) out.part({ part: "conditions", offer: recruits })
    out.text(
      html`<div class="hp" aria-hidden="true"><label for="website">${words.page.honeypot}</label><input id="website" name="website" tabindex="-1" autocomplete="off"></div><input type="hidden" name="release" value="${context.release}"><input type="hidden" name="zone" value=""><button class="go"${says("says")} dir="auto">${b.says}</button><p class="small"${says("consent")} dir="auto">${b.consent}</p></form>`,
    )
  },
  css: [formCss],
  refs: (b) => (b.fields ?? []).flatMap((a) => refTo("field", a.field, "asks for it")),
  gap: (b) => (b.says.trim() ? null : "the button of its form says nothing"),
  line: (b) => b.says,
  action: () => "form",
}

/** The fields that a form asks for, as they are; those that are no longer there are left out. */
export function askedFields(b: FormBlock, fields: readonly Field[]): AskedField[] {
  return (b.fields ?? []).flatMap((a) => {
    const field = fields.find((f) => f.id === a.field)
    return field ? [{ ...field, required: a.required }] : []
  })
}

/** The form of a page, or undefined. */
export function formOf(page: Page | null): FormBlock | undefined {
  return page ? ([...allBlocks(page.blocks)].find((b) => b.kind === "form") as FormBlock | undefined) : undefined
}
