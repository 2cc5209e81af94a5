// The links that come by mail: confirm, the way in, leaving, and what a letter points at. A link is only opened by GET;
// what it is for happens when its button is pressed, so that a mail scanner that follows links does nothing.
import { viaName } from "@/core/affiliate/code"
import { ibanShort } from "@/core/affiliate/iban"
import { knownZone } from "@/core/calendar/zone"
import type { PlainPage } from "@/core/page/plain"
import { words } from "@/core/words/en"
import { bankChangeState, confirmBankChange } from "@/server/affiliate/bank"
import { confirmJoin, pendingJoin } from "@/server/funnel/confirm"
import { handleWebhook } from "@/server/ledger/charge"
import { takeDispute } from "@/server/ledger/refund"
import { followLink, markOpened } from "@/server/mail/click"
import { isReportToken, takeReport } from "@/server/mail/report"
import { cameBy, changeZone, choose, hasOptedOut, leaveMails, receiver, returnToMails } from "@/server/mail/unsubscribe"
import { checkoutPathOf } from "@/server/offer/link"
import { enterStudio, studioLinkOpen } from "@/server/person/account"
import { changeState, pressAddressChange, readChangeLink } from "@/server/person/address-change"
import { type Device, sessionCookie } from "@/server/person/session"
import { enterByWayIn, renewLink, wayInState } from "@/server/person/way-in"
import { verifyId } from "@/server/sign"
import { seatsOf } from "@/server/webinar/until"
import type { HttpAnswer, Request } from "./exchange"
import { orderPage } from "./order-page"
import { onePixel } from "./pixel"
import { commonHeaders } from "./policy"
import { type Front, isForged, plainAnswer, redirect, sessionHeader, visitorOf } from "./reply"
import { calendarRoute, roomRoute } from "./room"
import { seatedCookie } from "./seat"
import { answerVia, shortLinkRoute } from "./via"

const foreign: PlainPage = {
  title: words.confirm.foreign,
  paragraphs: [words.confirm.foreignText],
  links: [{ href: "/learn/sign-in", says: words.confirm.goneButton }],
}

type Link = (front: Front, req: Request, token: string) => Promise<HttpAnswer | undefined>

/** A link of an e-mail that is counted: followed, with what belongs to a seat of whoever it was written to. */
async function countedLink(front: Front, req: Request, token: string): Promise<HttpAnswer> {
  const target = await followLink(front.s, token)
  if (!target) return plainAnswer(front, 404, foreign)
  const seats = target.person === null ? [] : await seatsOf(front.s.db, target.person)
  return {
    status: 303,
    headers: {
      ...commonHeaders,
      location: target.to,
      "referrer-policy": "no-referrer",
      "cache-control": "no-store",
      ...(seats.length ? { "set-cookie": seatedCookie(front, req, seats) } : {}),
    },
    body: "",
  }
}

/** An offer's own link leads to the checkout that sells it now; a coupon goes along. */
async function offerLink(front: Front, req: Request, offer: string): Promise<HttpAnswer | undefined> {
  const path = /^[1-9]\d{0,8}$/.test(offer) ? await checkoutPathOf(front.s.db, Number(offer)) : undefined
  if (path === undefined) return undefined
  const query = new URLSearchParams()
  for (const name of ["coupon", "utm_source", "utm_campaign", viaName]) {
    const value = req.query.get(name)
    if (value) query.set(name, value.slice(0, 80))
  }
  return redirect(`/${path}${query.size ? `?${query}` : ""}`)
}

/** The visitor that the cookie says, or null: an order's page gives nobody an id. */
function knownVisitor(front: Front, req: Request): Buffer | null {
  const visitor = visitorOf(front, req)
  return visitor.newcomer ? null : visitor.id
}

function deviceOf(front: Front, req: Request): Device {
  return {
    token: req.cookies[sessionCookie(front.s.config, "learn")],
    visitor: knownVisitor(front, req),
    agent: req.headers["user-agent"],
  }
}

/** The card processor tells of a payment. What isn't signed by it, or is too old, is refused. */
async function cardsHook(front: Front, req: Request): Promise<HttpAnswer> {
  const said = (status: number): HttpAnswer => ({
    status,
    headers: { ...commonHeaders, "content-type": "application/json", "cache-control": "no-store" },
    body: "{}",
  })
  const { cards } = front.s
  if (!cards) return said(404)
  let word: ReturnType<typeof cards.readHook>
  try {
    word = cards.readHook(req.headers as Record<string, string>, await req.text())
  } catch {
    return said(400)
  }
  if (word && "payment" in word) await handleWebhook(front.s, word.payment)
  if (word && "dispute" in word) await takeDispute(front.s, word.dispute)
  return said(200)
}

/** A report may bring the whole message back with it. */
const longestReport = 2 * 1024 * 1024

/** A report of a mail server is handed in as it came. What isn't addressed by our secret is refused. */
async function mailHook(front: Front, req: Request, token: string): Promise<HttpAnswer> {
  const said = (status: number, body: string): HttpAnswer => ({
    status,
    headers: { ...commonHeaders, "content-type": "application/json", "cache-control": "no-store" },
    body,
  })
  if (!isReportToken(front.s.config.secret, token)) return said(404, "{}")
  return said(200, JSON.stringify({ taken: await takeReport(front.s, Buffer.from(await req.text(longestReport))) }))
}

async function confirmLink(front: Front, req: Request, token: string): Promise<HttpAnswer> {
  const { s } = front
  const id = verifyId(s.config.secret, "confirm", token)
  const pending = id === null ? undefined : await pendingJoin(s, id)
  if (id === null || !pending) return plainAnswer(front, 404, foreign)
  if (req.method === "POST" && !isForged(req)) {
    const fields = await req.form()
    if (fields.renew) return renewed(front, { pending: id })
    const done = await confirmJoin(s, id, {
      ip: req.ip,
      showName: fields["show-name"] === "1",
      ...deviceOf(front, req),
    })
    if ("session" in done)
      return redirect(done.goTo, { "set-cookie": sessionHeader(s.config, done.realm, done.session) })
    return used(front, `/confirm/${token}`)
  }
  if (pending.state === "used") return used(front, `/confirm/${token}`)
  return plainAnswer(front, 200, {
    title: pending.waits ? words.catalogue.confirmTitle(pending.asked) : words.confirm.title,
    paragraphs: pending.waits ? [] : [words.confirm.text(pending.asked)],
    forms: [
      {
        action: `/confirm/${token}`,
        button: pending.waits ? words.catalogue.confirmButton : words.confirm.button,
        ...(pending.asksName ? { check: { name: "show-name", label: words.confirm.showName } } : {}),
      },
    ],
  })
}

async function wayInLink(front: Front, req: Request, token: string): Promise<HttpAnswer> {
  const { s } = front
  const id = verifyId(s.config.secret, "way-in", token)
  const state = id === null ? "foreign" : await wayInState(s, id)
  if (id === null || state === "foreign") return plainAnswer(front, 404, foreign)
  if (req.method === "POST" && !isForged(req)) {
    const fields = await req.form()
    if (fields.renew) return renewed(front, { wayIn: id })
    const done = await enterByWayIn(s, id, deviceOf(front, req))
    if ("session" in done)
      return redirect(done.goTo, { "set-cookie": sessionHeader(s.config, done.realm, done.session) })
    return used(front, `/way-in/${token}`)
  }
  if (state === "used") return used(front, `/way-in/${token}`)
  return plainAnswer(front, 200, {
    title: words.wayIn.title,
    paragraphs: [words.wayIn.text],
    forms: [{ action: `/way-in/${token}`, button: words.wayIn.button }],
  })
}

/** A mailbox says yes to another address: opened by GET, said by the press. */
async function addressLink(front: Front, req: Request, token: string): Promise<HttpAnswer> {
  const { s } = front
  const w = words.addressChange
  const link = readChangeLink(s.config, token)
  const found = link && (await changeState(s, link.id, link.side))
  if (!link || !found) return plainAnswer(front, 404, foreign)
  const account = [{ href: "/learn/account", says: w.account }]
  const done = () => plainAnswer(front, 200, { title: w.done, paragraphs: [w.doneText(found.email)], links: account })
  const over = () => plainAnswer(front, 410, { title: w.over, paragraphs: [w.overText], links: account })
  const half = () => plainAnswer(front, 200, { title: w.title, paragraphs: [w.half] })
  if (req.method === "POST" && !isForged(req)) {
    const came = await pressAddressChange(s, link.id, link.side)
    return came === "done" ? done() : came === "half" ? half() : over()
  }
  if (found.state === "done") return done()
  if (found.state === "over") return over()
  // One that was pressed and whose other half came meanwhile is pressed again, should the last of it have been cut off.
  return plainAnswer(front, 200, {
    title: w.title,
    paragraphs: [
      link.side === "old" ? w.text(found.oldEmail, found.email) : w.textNew(found.email),
      ...(found.pressed ? [w.half] : []),
    ],
    forms: [{ action: `/confirm-address/${token}`, button: w.button }],
  })
}

/** An affiliate's mailbox says yes to new bank details: opened by GET, said by the press. */
async function bankLink(front: Front, req: Request, token: string): Promise<HttpAnswer> {
  const { s } = front
  const w = words.bankChange
  const id = verifyId(s.config.secret, "bank", token)
  const found = id === null ? undefined : await bankChangeState(s, id)
  if (id === null || !found) return plainAnswer(front, 404, foreign)
  const home = [{ href: "/affiliate/account", says: w.home }]
  const done = () => plainAnswer(front, 200, { title: w.done, paragraphs: [w.doneText], links: home })
  const over = () => plainAnswer(front, 410, { title: w.over, paragraphs: [w.overText], links: home })
  if (req.method === "POST" && !isForged(req)) return (await confirmBankChange(s, id)) ? done() : over()
  if (found.state === "done") return done()
  if (found.state === "over") return over()
  return plainAnswer(front, 200, {
    title: w.title,
    paragraphs: [w.text(found.holder, ibanShort(found.iban))],
    forms: [{ action: `/bank/${token}`, button: w.button }],
  })
}

/** A link into the studio, for whoever lost the password: pressed, once. */
async function studioLink(front: Front, req: Request, token: string): Promise<HttpAnswer> {
  const { s } = front
  const w = words.studioIn
  const gone = () =>
    plainAnswer(front, 410, {
      title: w.gone,
      paragraphs: [w.goneText],
      links: [{ href: "/studio/sign-in", says: w.goneLink }],
    })
  const id = verifyId(s.config.secret, "studio", token)
  if (id === null || !(await studioLinkOpen(s.db, id))) return gone()
  if (req.method === "POST" && !isForged(req)) {
    const session = await enterStudio(s, id)
    return session === null
      ? gone()
      : redirect("/studio/settings/account", { "set-cookie": sessionHeader(s.config, "studio", session) })
  }
  return plainAnswer(front, 200, {
    title: w.title,
    paragraphs: [w.text],
    forms: [{ action: `/studio-in/${token}`, button: w.button }],
  })
}

function used(front: Front, action: string): HttpAnswer {
  return plainAnswer(front, 410, {
    title: words.confirm.gone,
    paragraphs: [words.confirm.goneText],
    forms: [{ action, button: words.confirm.goneButton, hidden: { renew: "1" } }],
  })
}

async function renewed(front: Front, of: { wayIn?: number; pending?: number }): Promise<HttpAnswer> {
  await renewLink(front.s, of)
  return plainAnswer(front, 200, { title: words.join.sent, paragraphs: [words.join.sentText] })
}

async function mailsLink(front: Front, req: Request, token: string): Promise<HttpAnswer> {
  const { s } = front
  const address = verifyId(s.config.secret, "leave", token)
  const before = address === null ? undefined : await receiver(s.db, address)
  if (address === null || !before) return plainAnswer(front, 404, foreign)
  const came = await cameBy(s.db, before.person, Number(req.query.get("mail")) || 0)
  const action = `/mails/${token}${came ? `?mail=${came.mail}` : ""}`
  let said: string = before.receives ? words.leave.receiving : words.leave.left
  if (req.method === "POST") {
    const fields = await req.form()
    if (fields.zone !== undefined) said = (await changeZone(s, address, fields.zone)) ? words.leave.zoneSaved : said
    else if (fields.sequence && came?.sequence) {
      await choose(s, before.person, { sequence: came.sequence.id }, false)
      said = words.leave.sequenceLeft(came.sequence.name)
    } else if (fields.broadcasts) {
      const wanted = fields.broadcasts === "again"
      await choose(s, before.person, "broadcasts", wanted)
      said = wanted ? words.leave.broadcastsReturned : words.leave.broadcastsLeft
    } else if (fields.back) {
      await returnToMails(s, address, { ip: req.ip })
      said = words.leave.returned
    } else {
      // The page's own button, and RFC 8058's List-Unsubscribe=One-Click by the reader's mail program.
      const oneClick = fields["List-Unsubscribe"] === "One-Click"
      await leaveMails(s, address, {
        ip: req.ip,
        how: oneClick ? "one click in the mail program" : "the link in an e-mail",
        mail: came?.mail,
      })
      said = words.leave.left
    }
  }
  const now = (await receiver(s.db, address)) ?? before
  const without = await hasOptedOut(s.db, before.person, "broadcasts")
  const zones = Intl.supportedValuesOf("timeZone")
  const zone = knownZone(now.zone, "UTC")
  return plainAnswer(front, 200, {
    title: words.leave.title,
    paragraphs: [words.leave.text(now.email), said],
    forms: [
      ...(now.receives && came?.sequence && !(await hasOptedOut(s.db, before.person, { sequence: came.sequence.id }))
        ? [{ action, button: words.leave.sequence(came.sequence.name), hidden: { sequence: "1" } }]
        : []),
      ...(now.receives
        ? [
            without
              ? { action, button: words.leave.broadcastsBack, hidden: { broadcasts: "again" } }
              : { action, button: words.leave.broadcasts, hidden: { broadcasts: "stop" } },
          ]
        : []),
      now.receives
        ? { action, button: words.leave.button }
        : { action, heading: words.leave.back, button: words.leave.backButton, hidden: { back: "1" } },
      {
        action,
        button: words.leave.zoneButton,
        select: {
          name: "zone",
          label: words.leave.zone,
          options: zones.includes(zone) ? zones : [zone, ...zones],
          value: zone,
        },
      },
    ],
  })
}

/** Each kind of link by the first part of its path, with what answers the rest of it. */
export const links: Readonly<Record<string, Link>> = {
  confirm: confirmLink,
  "way-in": wayInLink,
  "confirm-address": addressLink,
  "studio-in": studioLink,
  order: (front, req, code) => orderPage(front, req, code, knownVisitor(front, req)),
  by: (front, _, rest) => shortLinkRoute(front, rest),
  via: (front, req) => answerVia(front, req, visitorOf(front, req)),
  bank: bankLink,
  get: offerLink,
  room: roomRoute,
  calendar: (front, _, token) => calendarRoute(front, token),
  mails: mailsLink,
  "mail.gif": async (front, _, token) => {
    await markOpened(front.s, token)
    return onePixel()
  },
  go: countedLink,
}

/** What other services post to. */
export const hooks: Readonly<Record<string, Link>> = { cards: cardsHook, mail: mailHook }
