// The doors of a webinar: the personal way into its room, pressed on each device; its beats; and the date for a calendar.
import { randomBytes } from "node:crypto"
import { type Beat, roomPage } from "@/core/page/room"
import { untilWords } from "@/core/webinar/until"
import { words } from "@/core/words/en"
import { momentIn } from "@/core/words/moment"
import { feedText } from "@/server/calendar/feed"
import type { Config } from "@/server/config"
import { goOnFrom, replayPath, webinarPage } from "@/server/funnel/webinar-ways"
import { checkoutPathOf } from "@/server/offer/link"
import { roomCookie } from "@/server/person/session"
import { sign, verify, verifyId } from "@/server/sign"
import { entryOf } from "@/server/webinar/letter/seat"
import { vote } from "@/server/webinar/poll"
import { mediaLinkTo, noteOffer, playedIn, type Room, roomOf, takePlace } from "@/server/webinar/room"
import { beatOfSeat } from "@/server/webinar/stay"
import { saySomething } from "@/server/webinar/talk"
import { seatDeadlines } from "@/server/webinar/until"
import { learnerAt } from "./buyer"
import type { HttpAnswer, Request } from "./exchange"
import { commonHeaders, pagePolicy } from "./policy"
import { cookieText, type Front, isForged, plainAnswer, redirect } from "./reply"
import { seatedCookie } from "./seat"
import { seatOffer } from "./seat-offer"

/** How long a device is known to a room, seconds. */
const known = 30 * 86_400

/** `/room/<token>`: opened by GET; in by a press; from then on the device beats. */
export async function roomRoute(front: Front, req: Request, rest: string): Promise<HttpAnswer | undefined> {
  const { s } = front
  const [token = "", part] = rest.split("/")
  const id = verifyId(s.config.secret, "room", token)
  const room = id === null ? undefined : await roomOf(s, id)
  if (!room) return undefined
  const path = `/room/${token}`
  const shown = roomDevice(s.config, req, room.registration)
  const device = currentDevice(room, shown)
  if (part === "offer") return offerPressed(front, req, room, device)
  if (part !== undefined) return undefined
  if (req.method === "POST") {
    if (isForged(req)) return plainAnswer(front, 403, { title: words.join.foreign, paragraphs: [] })
    const fields = await req.form()
    if (fields.beat !== undefined && isFlood(room.registration)) return json(429, {})
    if (fields.beat !== undefined) return beatAnswer(front, room, path, device, fields.have !== undefined)
    if (fields.poll !== undefined)
      return device && "ok" in (await vote(s, room, fields)) ? json(200, {}) : json(409, {})
    if (fields.say !== undefined) return sayAnswer(front, room, device, fields)
    return comeIn(front, req, room, path, shown)
  }
  if (room.calledOff) return said(front, room, words.webinar.calledOff)
  const replay = room.webinar.replayDays === null ? null : await replayPath(s.db, room.id)
  if (room.playing.phase === "over") return over(front, req, room, replay)
  if (!room.open)
    return said(front, room, words.webinar.opensAt(momentIn(room.starts - room.webinar.opens * 60_000, room.zone)))
  if (!device)
    return plainAnswer(front, 200, {
      title: room.webinar.title,
      paragraphs: [momentIn(room.starts, room.zone)],
      forms: [{ action: path, button: words.webinar.goIn }],
    })
  const { html, style, script } = roomPage({
    title: room.webinar.title,
    host: room.webinar.host,
    starts: room.starts,
    zone: room.zone,
    school: front.live.school(),
    path,
    chat: room.webinar.chat,
    phase: room.playing.phase,
    plays: await playedIn(s, room),
    captions: (await mediaLinkTo(s, room.webinar.captions))?.url ?? null,
    handout: await mediaLinkTo(s, room.webinar.handout),
    replay,
  })
  const films = room.webinar.recording === null ? (s.meeting?.origin ?? "") : ""
  return {
    status: 200,
    headers: {
      ...commonHeaders,
      "content-type": "text/html; charset=utf-8",
      "content-security-policy": `${pagePolicy(style, script, "", films)}; connect-src 'self'`,
      "cache-control": "no-store",
      "referrer-policy": "no-referrer",
    },
    body: html,
  }
}

const said = (front: Front, room: Room, text: string): HttpAnswer =>
  plainAnswer(front, 200, { title: room.webinar.title, paragraphs: [momentIn(room.starts, room.zone), text] })

/** It is over; where its replay is there, and until when. */
async function over(front: Front, req: Request, room: Room, replay: string | null): Promise<HttpAnswer> {
  const { db, clock } = front.s
  const now = await clock.now()
  const end = replay ? (await seatDeadlines(db, room.registration, now)).replay : null
  if (!replay || end === null || now >= end) return said(front, room, words.webinar.over)
  const w = words.webinar
  const answer = plainAnswer(front, 200, {
    title: room.webinar.title,
    paragraphs: [w.over, w.replayUntil(untilWords(end, room.zone))],
    links: [{ href: replay, says: w.toReplay }],
  })
  return { ...answer, headers: { ...answer.headers, "set-cookie": seatedCookie(front, req, [room.registration]) } }
}

/** What it leads to was pressed: put down, and led on as their page says, where this device is known by the seat. */
async function offerPressed(
  front: Front,
  req: Request,
  room: Room,
  device: Buffer | null,
): Promise<HttpAnswer | undefined> {
  const { s } = front
  const { offer } = room.webinar
  const checkout = offer === null ? undefined : await checkoutPathOf(s.db, offer, room.id)
  if (checkout === undefined) return undefined
  if (!device || !(room.offered || room.saw)) return redirect(`/${checkout}`)
  await noteOffer(s.db, room.registration, "pressed", await s.clock.now())
  const page = await webinarPage(s.db, room.id, "awaits")
  const next = page && (await goOnFrom(s, page, room.person, "clicked"))
  return redirect(next ?? `/${checkout}`, { "set-cookie": seatedCookie(front, req, [room.registration]) })
}

/** The press: this device has the seat, unless another one is in the room just now and this one has not proved to be them. */
async function comeIn(
  front: Front,
  req: Request,
  room: Room,
  path: string,
  device: Buffer | null,
): Promise<HttpAnswer> {
  const { s } = front
  // Nothing is taken before there is anything to be in.
  if (!room.open) return redirect(path)
  const mine = device ?? randomBytes(8)
  const proven = (await learnerAt(front, req))?.person === room.person
  if (!(await takePlace(s, room.registration, mine, proven)))
    return plainAnswer(front, 409, {
      title: words.webinar.elsewhere,
      paragraphs: [words.webinar.elsewhereText],
      links: [{ href: "/learn/sign-in", says: words.confirm.goneButton }],
    })
  const value = sign(s.config.secret, "seat", `${room.registration}-${mine.toString("hex")}`)
  return redirect(path, {
    "set-cookie": [
      cookieText(s.config, roomCookie(s.config), value, known),
      seatedCookie(front, req, [room.registration]),
    ],
  })
}

/** Beats of each seat in ten seconds of real time: of so many no more is asked of the database. */
const flood = { most: 300, windowMs: 10_000 }
const beats = new Map<number, { readonly since: number; n: number }>()

function isFlood(registration: number): boolean {
  const now = performance.now()
  let seen = beats.get(registration)
  if (!seen || now - seen.since > flood.windowMs) {
    if (beats.size > 20_000) beats.clear()
    seen = { since: now, n: 0 }
    beats.set(registration, seen)
  }
  return ++seen.n > flood.most
}

/** The device that a cookie of ours says, for this seat; null: none. */
export function roomDevice(config: Config, req: Request, registration: number): Buffer | null {
  const text = verify(config.secret, "seat", req.cookies[roomCookie(config)] ?? "")
  const [id, device] = text?.split("-") ?? []
  return Number(id) === registration && device ? Buffer.from(device, "hex") : null
}

/** The device where it is the one that has the seat now. */
export const currentDevice = (room: Pick<Room, "device">, shown: Buffer | null): Buffer | null =>
  shown && room.device?.equals(shown) ? shown : null

const json = (status: number, body: unknown): HttpAnswer => ({
  status,
  headers: { ...commonHeaders, "content-type": "application/json", "cache-control": "no-store" },
  body: JSON.stringify(body),
})

async function sayAnswer(
  front: Front,
  room: Room,
  device: Buffer | null,
  fields: Readonly<Record<string, string>>,
): Promise<HttpAnswer> {
  if (!device) return json(409, {})
  const done = await saySomething(front.s, room, { kind: fields.question ? "question" : "chat", words: fields.say })
  return "refused" in done ? json(422, { refused: done.refused }) : json(200, {})
}

async function beatAnswer(
  front: Front,
  room: Room,
  path: string,
  device: Buffer | null,
  has: boolean,
): Promise<HttpAnswer> {
  if (!device) return json(409, {})
  const { s } = front
  if (room.open) await beatOfSeat(s, room.registration, device)
  const { playing } = room
  if (playing.phase !== "running") return json(200, playing satisfies Beat)
  if (room.offered && !room.saw) await noteOffer(s.db, room.registration, "saw", await s.clock.now())
  const offer =
    room.offered && !has ? await seatOffer(front, room.registration, room.webinar.offer!, `${path}/offer`) : null
  return json(200, { phase: "running", second: playing.second, offer: offer?.text ?? null } satisfies Beat)
}

/** `/calendar/<token>.ics`: the date as a file for a calendar. */
export async function calendarRoute(front: Front, token: string): Promise<HttpAnswer | undefined> {
  const { s } = front
  if (token.startsWith("school/")) return schoolCalendar(front, token.slice("school/".length))
  const id = token.endsWith(".ics") ? verifyId(s.config.secret, "room", token.slice(0, -4)) : null
  const school = await s.db.row<{ sender_name: string; sender_email: string }>(
    "SELECT sender_name, sender_email FROM school WHERE id = 1",
  )
  const text = id === null || !school ? null : await entryOf(s.db, s.config, school, id, "publish", await s.clock.now())
  if (text === null) return undefined
  return {
    status: 200,
    headers: {
      ...commonHeaders,
      "content-type": "text/calendar; charset=utf-8; method=PUBLISH",
      "content-disposition": 'attachment; filename="webinar.ics"',
      "cache-control": "no-store",
    },
    body: text,
  }
}

/** `/calendar/school/<token>.ics`: everything of the school that has a date, for whoever has the address. */
async function schoolCalendar(front: Front, token: string): Promise<HttpAnswer | undefined> {
  const text = token.endsWith(".ics") ? await feedText(front.s, token.slice(0, -4)) : null
  if (text === null) return undefined
  return {
    status: 200,
    headers: {
      ...commonHeaders,
      "content-type": "text/calendar; charset=utf-8; method=PUBLISH",
      "cache-control": "no-store",
    },
    body: text,
  }
}
