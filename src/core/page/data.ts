// What stands on a page for programs that read.
import { type Html, html, raw } from "../html"

/** Stands in data for where the school is, which only the moment knows. */
export const originHere = "https://origin.invalid"

/** Data of schema.org, as JSON-LD: no program, and nothing in it may end the element. */
export const dataTag = (data: object): Html =>
  html`<script type="application/ld+json">${raw(JSON.stringify(data).replace(/</g, "\\u003c"))}</script>`
