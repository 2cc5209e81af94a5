// Links in rich text that lead to something of the school: kept by what that is ("step:12", "lesson:3"), and given its address when the page is
// written, so that none is copied by hand or left behind when something is renamed.
import { type Finding, found } from "../finding"
import { escapeHtml } from "../html"
import { type Ref, refTo } from "../reference"
import type { BlockAt, ButtonTarget, CheckAt } from "./block/kind"

/** What a link can lead to by its number. */
export const things = ["step", "course", "lesson", "offer", "webinar", "file"] as const
type Thing = (typeof things)[number]
const link = new RegExp(`href="(${things.join("|")}):([1-9]\\d{0,8})"`, "g")
const whole = new RegExp(`^(${things.join("|")}):[1-9]\\d{0,8}$`)
const begun = new RegExp(`^(${things.join("|")}):`, "i")

/** Whether an address of a link is one of these; `looksOurs`: whether it looks like one, be it right or not. */
export const isOurLink = (href: string) => whole.test(href)
export const looksOurs = (href: string) => begun.test(href)

export const linkRefs = (html: string): Ref[] =>
  [...html.matchAll(link)].flatMap(([, to, id]) =>
    refTo(to === "file" ? "media" : (to as Exclude<Thing, "file">), Number(id), "links to it"),
  )

/** The same with addresses; what leads nowhere leads to the page itself. */
export function linked(html: string, { address, context }: Pick<BlockAt, "address" | "context">): string {
  return html.replace(link, (_, to: Thing, id: string) => {
    const found = to === "step" ? address({ to: "step", step: Number(id) }) : context.addresses?.get(`${to}:${id}`)
    return `href="${escapeHtml(found ?? "#")}"`
  })
}

/** Where a button leads, as an address; null: nowhere. */
export function leadsTo(target: ButtonTarget | null, { address, context }: Pick<BlockAt, "address" | "context">) {
  if (target?.to !== "link" || target.href.startsWith("step:"))
    return address(target?.to === "link" ? { to: "step", step: Number(target.href.slice(5)) } : target)
  return isOurLink(target.href) ? (context.addresses?.get(target.href) ?? null) : target.href
}

export const refsOfTarget = (target: ButtonTarget | null): Ref[] =>
  target?.to === "link"
    ? linkRefs(`href="${target.href}"`)
    : refTo("step", target?.to === "step" ? target.step : null, "leads to it")

/** Links to steps that are gone. */
export function deadLinks(b: { readonly id: string; readonly html: string }, { step, address }: CheckAt): Finding[] {
  const dead = [...b.html.matchAll(link)].some(
    ([, to, id]) => to === "step" && address({ to: "step", step: Number(id) }) === null,
  )
  return dead
    ? [found("link-without-target", step, { on: { step: step.name } }, { go: "page", step: step.id, block: b.id })]
    : []
}
