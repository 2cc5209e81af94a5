// A field as a form asks for it, with what was typed before.

import { type Html, html } from "../html"
import { type AskedField, isChosen, longestValue } from "../person/field"
import { words } from "../words/en"

/** Label and control; its name in the form is `field-` and its number. */
export function askHtml(f: AskedField, typed: string): Html {
  const id = `field-${f.id}`
  const named = html`id="${id}" name="${id}"${f.required ? " required" : ""}`
  const label = html`<label for="${id}" dir="auto">${f.label}</label>`
  if (!isChosen(f)) return html`${label}<input ${named}${inputs[f.kind as keyof typeof inputs]} value="${typed}">`
  const option = (value: string, says: string) =>
    html`<option value="${value}"${value === typed ? " selected" : ""}>${says}</option>`
  const choices = f.choices.map((c) => option(String(c.id), c.says))
  return html`${label}<select ${named} dir="auto">${option("", words.page.choose)}${choices}</select>`
}

const inputs = {
  text: html` maxlength="${longestValue}"`,
  number: html` inputmode="decimal" maxlength="20"`,
  date: html` type="date"`,
} as const
