// The small server that stands before Next: it answers published pages, links and media itself, sets the content security
// policy, and hands everything else on (routes.ts).
import { createServer, type IncomingMessage, type Server, type ServerResponse } from "node:http"
import { words } from "@/core/words/en"
import type { Context } from "@/server/context"
import { isDatabaseDown } from "@/server/db/pool"
import { isSecure } from "@/server/person/session"
import { answerPage } from "./answer"
import { type Bodies, watchBodies } from "./bodies"
import { type HttpAnswer, requestOf, TooLong } from "./exchange"
import { watchLive } from "./live"
import { missing } from "./missing"
import { Full, lookQueue } from "./queue"
import { backInAMoment, type Front, plainAnswer, tooLong, unreadable } from "./reply"
import { roomLive } from "./room-live"
import { type Handler, routeOf } from "./routes"
import { collectMentions, elsewhere } from "./via"
import { collectVisits } from "./visits"

export type FrontServer = { readonly server: Server; readonly front: Front; close(): Promise<void> }

export function frontServer(s: Context, next: Handler, patience: Parameters<typeof watchBodies>[0] = {}): FrontServer {
  const front: Front = {
    s,
    live: watchLive(s),
    visits: collectVisits(s),
    rooms: roomLive(s),
    mentions: collectMentions(s),
    looks: lookQueue(),
  }
  const bodies = watchBodies(patience)
  const secure = isSecure(s.config)
  // Bodies have times of their own, by what they are.
  const times = {
    keepAliveTimeout: 30_000,
    headersTimeout: 10_000,
    requestTimeout: 0,
    connectionsCheckingInterval: 2_000,
  }
  const server = createServer(times, (req, res) => {
    if (secure) res.setHeader("strict-transport-security", "max-age=31536000")
    const away = () => {
      if (!res.headersSent && !res.writableEnded) send(req, res, backInAMoment(front, 503))
    }
    // Whoever waits for a database that has stopped answering is told so, unless money may be on its way.
    const goOn = front.live.onLost(away)
    res.once("close", goOn)
    answer(front, next, bodies, req, res, goOn).catch((error) => {
      const full = error instanceof Full
      const down = full || isDatabaseDown(error)
      if (!down && !res.headersSent) s.log.error(error)
      if (res.headersSent) {
        if (!res.writableEnded) res.destroy()
      } else if (error instanceof TooLong) {
        res.setHeader("connection", "close")
        send(req, res, tooLong(front))
      } else send(req, res, backInAMoment(front, down ? 503 : 500, full ? 5 : 30))
    })
  })
  return {
    server,
    front,
    async close() {
      front.live.stop()
      front.rooms.stop()
      bodies.stop()
      server.closeIdleConnections()
      await new Promise<void>((done) => {
        server.close(() => done())
        setTimeout(() => server.closeAllConnections(), 1_500).unref()
      })
      await front.visits.stop()
      await front.mentions.stop()
    },
  }
}

function isReadable(path: string): boolean {
  try {
    decodeURIComponent(path)
    return true
  } catch {
    return false
  }
}

async function answer(
  front: Front,
  next: Handler,
  bodies: Bodies,
  req: IncomingMessage,
  res: ServerResponse,
  mustEnd: () => void,
): Promise<void> {
  const request = requestOf(req, front.s.config.trustProxy, mustEnd)
  const { path } = request
  if (!isReadable(path)) return send(req, res, unreadable(front))
  const route = routeOf(request.method, `/${path}`)
  if (!bodies.watch(req, res, request.ip, route?.long === true)) return refuseBody(front, req, res)
  // What is published stays so without the database; little else does.
  if (!route?.alone && !front.live.reachable() && (req.method === "POST" || front.live.page(path)?.dynamic !== false))
    return send(req, res, backInAMoment(front, 503))
  const rest = path.slice(path.indexOf("/") + 1 || path.length)
  const found =
    (await route?.answer({ front, request, req, res, next, rest })) ??
    (await answerPage(front, request)) ??
    (await elsewhere(front, request)) ??
    (await missing(front, request))
  if (found !== "answered") send(req, res, found)
}

function refuseBody(front: Front, req: IncomingMessage, res: ServerResponse): void {
  res.setHeader("connection", "close")
  send(req, res, plainAnswer(front, 429, { title: words.join.tooMany, paragraphs: [] }))
}

function send(req: IncomingMessage, res: ServerResponse, answer: HttpAnswer): void {
  res.writeHead(answer.status, answer.headers)
  res.end(req.method === "HEAD" ? undefined : answer.body)
}
