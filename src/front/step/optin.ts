// The form of an opt-in page, sent.
import { parseAddress } from "@/core/person/address"
import { words } from "@/core/words/en"
import { joinFunnel, registerKnown } from "@/server/funnel/join"
import type { HttpAnswer, Request } from "../exchange"
import type { LivePage } from "../live"
import { renderPage } from "../render-page"
import { cameFrom, type Front, isForged, plainAnswer, redirect, type Visitor } from "../reply"
import { typedCookie } from "../typed"
import type { FrontStep } from "./step"

export const optin: FrontStep = { post: postJoin }

/** Also for a page that has been taken off since somebody opened it: their form says which release it is of. */
export async function postJoin(
  front: Front,
  req: Request,
  page: LivePage | undefined,
  visitor: Visitor,
  fields: Readonly<Record<string, string>>,
  /** The page again, with what is wrong; not given: with its parts as they are for anybody. */
  again?: (says: string) => Promise<HttpAnswer>,
  /** Who takes a seat as somebody their device has proved to be; null: nobody is known. */
  person: number | null = null,
): Promise<HttpAnswer | undefined> {
  // Another site may send its visitors' forms here only where the marketer said so.
  if (isForged(req) && !page?.page.foreign)
    return plainAnswer(front, 403, { title: words.join.foreign, paragraphs: [words.join.foreignText] })
  const form = {
    release: fields.release ?? "",
    email: fields.email ?? "",
    name: fields.name ?? "",
    zone: fields.zone ?? "",
    website: fields.website ?? "",
    answers: answersIn(fields),
    ...(fields.date === undefined ? {} : { date: fields.date }),
    ...(fields.wait === undefined ? {} : { wait: fields.wait }),
    ...(fields.agreed === undefined ? {} : { agreed: fields.agreed }),
  }
  const from = { path: req.path, ip: req.ip, visitor: visitor.id, source: cameFrom(front, req) }
  const done =
    person === null ? await joinFunnel(front.s, form, from) : await registerKnown(front.s, form, { ...from, person })
  if ("goTo" in done) {
    const typed = parseAddress(form.email)
    // The page that the form's own release leads to may have been taken off since.
    if (front.live.page(done.goTo.slice(1)) || done.goTo.startsWith("/learn") || done.goTo === "/affiliate")
      return redirect(done.goTo, {
        "set-cookie": [
          ...(visitor.newcomer ? [visitor.cookie] : []),
          ...(typed && person === null ? [typedCookie(front, typed.email)] : []),
        ],
      })
    return plainAnswer(front, 200, { title: words.join.sent, paragraphs: [words.join.sentText] })
  }
  if (done.refused === "rate") return plainAnswer(front, 429, { title: done.says, paragraphs: [] })
  if (done.refused === "gone" || !page) return undefined
  if (again) return again(done.says)
  return renderPage(front, req, page, 422, {}, { error: done.says, ...typedIn(fields) })
}

/** What a form brought, to be shown again. */
export function typedIn(fields: Readonly<Record<string, string>>) {
  return {
    email: (fields.email ?? "").slice(0, 300),
    name: (fields.name ?? "").slice(0, 300),
    ...Object.fromEntries(Object.entries(answersIn(fields)).map(([id, typed]) => [`field-${id}`, typed])),
  }
}

/** What a form brought for the school's fields, by their number. */
function answersIn(fields: Readonly<Record<string, string>>): Record<string, string> {
  return Object.fromEntries(
    Object.entries(fields).flatMap(([name, typed]) => {
      const id = /^field-([1-9]\d{0,8})$/.exec(name)?.[1]
      return id ? [[id, typed.slice(0, 600)]] : []
    }),
  )
}
