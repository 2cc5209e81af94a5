// What every page of a school begins with: its title, type and style, its sign in the tab, and its name or logo at the top.
import { type Html, html, raw } from "../html"
import type { Look } from "../look/look"
import type { LegalKind } from "./legal"
import { iconOf, type Picture, pictureTag } from "./picture"
import { fontLinks } from "./style"

/** The school as its pages show it. */
export type SchoolSeen = {
  readonly name: string
  readonly look: Look
  readonly logo?: Picture | null
  /** Which of the legal pages are shown. */
  readonly legal?: readonly LegalKind[]
}

/** The beginning of the head, up to its title. */
export const headOpen = (title: string): Html =>
  html`<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><title>${title}</title>`

/** The rest of the head, to where the body begins. */
export const headClose = ({ look, logo }: SchoolSeen, style: string): Html =>
  html`<link rel="icon" href="${logo ? iconOf(logo.url) : "data:,"}">${fontLinks(look)}<style>${raw(style)}</style></head><body>`

/** The head of a page that is nobody's to find: no robots, and no address of theirs goes along to others. */
export const hiddenHead = (school: SchoolSeen, title: string, style: string): Html =>
  html`${headOpen(title)}<meta name="robots" content="noindex"><meta name="referrer" content="no-referrer">${headClose(school, style)}`

/** Its logo, or its name. */
export function schoolHead({ name, logo }: SchoolSeen): Html {
  if (!name && !logo) return html``
  const sign = logo ? pictureTag(logo, { alt: name, as: "small", first: true }) : html`<span dir="auto">${name}</span>`
  return html`<header class="head">${sign}</header>`
}
