// A field as a form asks for it, with what was typed before.

import { escapeHtml } from "../html"
import { type Asked, isChosen, longestValue } from "../person/field"
import { words } from "../words/en"

/** Label and control; its name in the form is `field-` and its number. */
export function askHtml(f: Asked, typed: string): string {
  const id = `field-${f.id}`
  const named = `id="${id}" name="${id}"${f.required ? " required" : ""}`
  const label = `<label for="${id}" dir="auto">${escapeHtml(f.label)}</label>`
  if (!isChosen(f))
    return `${label}<input ${named}${inputs[f.kind as keyof typeof inputs]} value="${escapeHtml(typed)}">`
  const option = (value: string, says: string) =>
    `<option value="${value}"${value === typed ? " selected" : ""}>${escapeHtml(says)}</option>`
  const choices = f.choices.map((c) => option(String(c.id), c.says)).join("")
  return `${label}<select ${named} dir="auto">${option("", words.page.choose)}${choices}</select>`
}

const inputs = {
  text: ` maxlength="${longestValue}"`,
  number: ` inputmode="decimal" maxlength="20"`,
  date: ` type="date"`,
} as const
