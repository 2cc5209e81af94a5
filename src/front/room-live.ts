// What happens in rooms, as it happens: server-sent events (HTML, 9.2). Each room that somebody listens to is asked for three times a
// second, once for all of them; whoever comes back is told what they missed. Nameless events are what is said; `poll` is one as it stands,
// `mine` what this seat has voted for, and at a `turn` the page asks anew where the room stands.
import type { IncomingMessage, ServerResponse } from "node:http"
import type { Context } from "@/server/context"
import { verifyId } from "@/server/sign"
import { openPlanned, type PollSeen, pollsOf, votesOf } from "@/server/webinar/poll"
import { movedOn, type Room, roomOf, turnOf } from "@/server/webinar/room"
import { isSeenBy, type SaidInRoom, saidSince } from "@/server/webinar/talk"
import type { Request } from "./exchange"
import { commonHeaders } from "./policy"
import { currentDevice, roomDevice } from "./room"

const askEvery = 300
/** Rounds after which it is asked whether each device still has its seat. */
const askDevicesEvery = 15
/** A line that says nothing, so that nobody in between takes it for dead, ms. */
const keepAliveMs = 15_000
/** Messages before the latest that are asked for again: one with a lower number may be committed later. */
const lookBack = 50

/** How many windows of one seat are told of what happens. */
const mostWindows = 5

type Listening = { readonly room: Room; readonly device: Buffer; readonly res: ServerResponse }
type Talk = {
  last: number
  readonly told: Set<number>
  readonly listening: Set<Listening>
  /** Where the room stood when it was last looked at. */
  turn: string
  /** Planned polls that were opened. */
  readonly asked: Set<number>
  /** Each poll as it was last told. */
  readonly polls: Map<number, string>
}

export type RoomLive = {
  /** Takes over the answer where it is asked for; false: it is something else. */
  serve(req: IncomingMessage, res: ServerResponse, request: Request): Promise<boolean>
  /** How many listen. */
  count(): number
  stop(): void
}

export function roomLive(s: Context): RoomLive {
  const talks = new Map<number, Talk>()
  let asking: NodeJS.Timeout | undefined
  let breathing: NodeJS.Timeout | undefined
  let busy = false
  let rounds = 0

  const round = async () => {
    if (busy) return
    busy = true
    if (++rounds % askDevicesEvery === 0) await letGo().catch(() => {})
    for (const [date, talk] of talks)
      try {
        const fresh = (await saidSince(s.db, date, Math.max(0, talk.last - lookBack))).filter(
          (m) => !talk.told.has(m.id),
        )
        for (const m of fresh) {
          talk.told.add(m.id)
          talk.last = Math.max(talk.last, m.id)
        }
        for (const l of talk.listening) tell(l, fresh)
        await turn(date, talk)
        // What lies further back than is asked for again need not be remembered.
        for (const id of talk.told) if (id < talk.last - 2 * lookBack) talk.told.delete(id)
      } catch {
        // The database is away: it is asked again in a moment.
      }
    busy = false
  }
  /** Whoever's seat another device has taken, in any process, hears no more. */
  const letGo = async () => {
    const all = [...talks.values()].flatMap((t) => [...t.listening])
    const seats = all.map((l) => ({ registration: l.room.registration, device: l.device }))
    const moved = await movedOn(s.db, seats)
    for (const l of all) if (moved.has(l.room.registration)) l.res.end()
  }
  const turn = async (date: number, talk: Talk) => {
    const found = await turnOf(s, date)
    if (!found) return
    const planned = found.polls.filter((p) => !talk.asked.has(p.id) && p.minute * 60 <= (found.elapsed ?? -1))
    if (planned.length) await openPlanned(s.db, date, planned, await s.clock.now())
    for (const p of planned) talk.asked.add(p.id)
    for (const p of await pollsOf(s.db, date)) {
      const data = pollEvent(p)
      if (talk.polls.get(p.id) === data) continue
      talk.polls.set(p.id, data)
      for (const { res } of talk.listening) res.write(data)
    }
    if (talk.turn && talk.turn !== found.state)
      for (const { res } of talk.listening) res.write("event: turn\ndata:\n\n")
    talk.turn = found.state
  }
  const start = () => {
    asking ??= setInterval(() => void round(), askEvery)
    breathing ??= setInterval(() => {
      for (const { listening } of talks.values()) for (const { res } of listening) res.write(":\n\n")
    }, keepAliveMs)
  }
  const stop = () => {
    clearInterval(asking)
    clearInterval(breathing)
    asking = breathing = undefined
  }
  const leave = (date: number, l: Listening) => {
    const talk = talks.get(date)
    talk?.listening.delete(l)
    if (talk?.listening.size === 0) talks.delete(date)
    if (!talks.size) stop()
  }

  return {
    async serve(req, res, request) {
      const token = /^room\/([^/]+)\/live$/.exec(request.path)?.[1]
      if (token === undefined || request.method !== "GET") return false
      const id = verifyId(s.config.secret, "room", token)
      const room = id === null ? undefined : await roomOf(s, id)
      const device = room ? currentDevice(room, roomDevice(s.config, request, room.registration)) : null
      if (!room?.open || !device) {
        // 204: whoever listened is not to come back (HTML, 9.2.3).
        res.writeHead(204, commonHeaders).end()
        return true
      }
      res.writeHead(200, { ...commonHeaders, "content-type": "text/event-stream", "cache-control": "no-store" })
      res.write("retry: 1000\n\n")
      const l: Listening = { room, device, res }
      const had = Number(req.headers["last-event-id"]) || 0
      const recent = await saidSince(s.db, room.date, Math.max(0, had - lookBack))
      const missed = recent.filter((m) => m.id > had)
      const votes = await votesOf(s.db, room.registration)
      const polls = await pollsOf(s.db, room.date)
      // Whoever has gone meanwhile listens to nothing.
      if (res.destroyed) return true
      const talk = talks.get(room.date) ?? {
        last: 0,
        told: new Set<number>(),
        listening: new Set<Listening>(),
        turn: "",
        asked: new Set<number>(),
        polls: new Map<number, string>(),
      }
      if (!talks.has(room.date)) {
        for (const m of recent) talk.told.add(m.id)
        talk.last = recent.at(-1)?.id ?? had
        talks.set(room.date, talk)
      }
      // Somebody with many windows keeps the latest of them.
      const all = [...talk.listening].filter((x) => x.room.registration === room.registration)
      const theirs = all.filter((x) => x.device.equals(device))
      for (const x of all) if (!x.device.equals(device)) x.res.end()
      for (const x of theirs.slice(0, Math.max(0, theirs.length - mostWindows + 1))) x.res.end()
      tell(l, missed)
      if (polls.length) res.write(`event: mine\ndata: ${JSON.stringify(votes)}\n\n${polls.map(pollEvent).join("")}`)
      talk.listening.add(l)
      start()
      res.on("close", () => leave(room.date, l))
      return true
    },
    count: () => [...talks.values()].reduce((n, t) => n + t.listening.size, 0),
    stop() {
      stop()
      for (const { listening } of talks.values()) for (const { res } of listening) res.end()
      talks.clear()
    },
  }
}

const pollEvent = (p: PollSeen) => `event: poll\ndata: ${JSON.stringify(p)}\n\n`

function tell({ room, res }: Listening, all: readonly SaidInRoom[]): void {
  for (const m of all) {
    if (room.webinar.chat === "off" || !isSeenBy(m, room)) continue
    const shown = {
      name: m.registration === null ? room.webinar.host : m.name,
      host: m.registration === null,
      mine: m.registration === room.registration,
      question: m.kind === "question",
      words: m.words,
    }
    res.write(`id: ${m.id}\ndata: ${JSON.stringify(shown)}\n\n`)
  }
}
