// Links in rich text that lead to something of the school: kept by what that is ("step:12", "course:3"), and given its address when the page is
// written, so that none is copied by hand or left behind when something is renamed.
import { type Finding, found } from "../finding"
import { escapeHtml } from "../html"
import { type Ref, refTo } from "../reference"
import type { BlockAt, CheckAt } from "./block/kind"

const link = /href="(step|course):([1-9]\d{0,8})"/g

/** Whether an address of a link is one of these. */
export const isOurLink = (href: string) => /^(step|course):[1-9]\d{0,8}$/.test(href)

export const linkRefs = (html: string): Ref[] =>
  [...html.matchAll(link)].flatMap(([, to, id]) => refTo(to as "step" | "course", Number(id), "links to it"))

/** The same with addresses; what leads nowhere leads to the page itself. */
export function linked(html: string, at: Pick<BlockAt, "address" | "courses">): string {
  return html.replace(link, (_, to: string, id: string) => `href="${escapeHtml(addressOf(to, Number(id), at) ?? "#")}"`)
}

function addressOf(to: string, id: number, at: Pick<BlockAt, "address" | "courses">): string | null {
  if (to === "step") return at.address({ to: "step", step: id })
  const course = at.courses.find((c) => c.id === id)
  return course ? `/learn/${course.slug}` : null
}

/** Links to steps that are gone. */
export function deadLinks(b: { readonly id: string; readonly html: string }, { step, address }: CheckAt): Finding[] {
  const dead = [...b.html.matchAll(link)].some(
    ([, to, id]) => to === "step" && address({ to: "step", step: Number(id) }) === null,
  )
  return dead
    ? [found("link-without-target", step, { on: { step: step.name } }, { go: "page", step: step.id, block: b.id })]
    : []
}
