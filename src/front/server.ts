// The small server that stands before Next: it answers published pages, doors and media itself, sets the content security
// policy, and hands everything else on.
import { randomBytes } from "node:crypto"
import { createServer, type IncomingMessage, type Server, type ServerResponse } from "node:http"
import { seenPath } from "@/core/page/compile"
import { words } from "@/core/words/en"
import type { Context } from "@/server/context"
import { isDatabaseDown } from "@/server/db/pool"
import { health } from "@/server/health"
import { isSecure } from "@/server/person/session"
import { answerPage, answerSeen, countFirstLook } from "./answer"
import { type Bodies, watchBodies } from "./bodies"
import { type Answer, requestOf, TooLong } from "./exchange"
import { serveFont, serveMedia } from "./files"
import { home } from "./home"
import { answerLink } from "./link-routes"
import { listPath, takeList } from "./list"
import { watchLive } from "./live"
import { isMultipart, isWhole } from "./multipart"
import { appPolicy, commonHeaders } from "./policy"
import { Full, lookQueue } from "./queue"
import { type Front, plainAnswer } from "./reply"
import { roomLive } from "./room-live"
import { isUpload, takeUpload } from "./upload"
import { collectMentions, elsewhere } from "./via"
import { collectVisits } from "./visits"

export type Handler = (req: IncomingMessage, res: ServerResponse) => Promise<void>
export type FrontServer = { readonly server: Server; readonly front: Front; close(): Promise<void> }

/** First parts of a path that Next answers. */
const handedOn = ["studio", "learn", "affiliate", "standins", "_next", "icon.svg"]

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

function backInAMoment(front: Front, status: number, seconds = 30): Answer {
  const page = { title: words.down.title, paragraphs: [words.down.text] }
  return plainAnswer(front, status, page, { "retry-after": String(seconds) })
}

const tooLong = (front: Front) => plainAnswer(front, 413, { title: words.join.tooLong, paragraphs: [] })
const unreadable = (front: Front) =>
  plainAnswer(front, 400, { title: words.unreadable.title, paragraphs: [words.unreadable.text] })

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
  const { s } = front
  const request = requestOf(req, s.config.trustProxy, mustEnd)
  const first = request.path.split("/", 1)[0]!
  if (!isReadable(request.path)) return send(req, res, unreadable(front))
  if (!bodies.watch(req, res, request.ip, isUpload(request.path) || request.path === listPath))
    return refuseBody(front, req, res)
  if (request.path === listPath && req.method === "POST") return takeList(front, request, req, res)
  if (isUpload(request.path) && req.method === "POST") {
    const done = await takeUpload(front, request, req)
    // What is left of a body that was refused is not waited for.
    if (!req.complete) res.setHeader("connection", "close")
    return send(req, res, done)
  }
  if (handedOn.includes(first)) {
    if (first !== "_next" && !front.live.reachable()) return send(req, res, backInAMoment(front, 503))
    if (isMultipart(req) && !(await isWhole(req))) return send(req, res, unreadable(front))
    const nonce = randomBytes(16).toString("base64")
    const policy = appPolicy(nonce, s.cards?.origin, first === "learn")
    req.headers["content-security-policy"] = policy
    // What a caller says of itself is not handed on as if a proxy had said it.
    req.headers["x-forwarded-for"] = request.ip
    delete req.headers["x-forwarded-host"]
    delete req.headers["x-forwarded-proto"]
    res.setHeader("content-security-policy", policy)
    for (const [name, value] of Object.entries(commonHeaders)) res.setHeader(name, value)
    return next(req, res)
  }
  if (request.path === "") return send(req, res, home(front))
  if (first === "healthz") {
    const state = await health(s)
    return send(req, res, {
      status: state.ok ? 200 : 503,
      headers: { ...commonHeaders, "content-type": "application/json", "cache-control": "no-store" },
      body: JSON.stringify(state),
    })
  }
  if (request.path === seenPath) return send(req, res, answerSeen(front, request))
  const rest = request.path.slice(first.length + 1)
  if (first === "fonts" || first === "media") countFirstLook(front, request)
  if (first === "fonts" && (await serveFont(rest, res))) return
  if (first === "media" && (await serveMedia(s, req, res, rest, request.query.get("key") ?? ""))) return
  // What is published stays so without the database; nothing else does.
  if (!front.live.reachable() && (req.method === "POST" || front.live.page(request.path)?.dynamic !== false))
    return send(req, res, backInAMoment(front, 503))
  if (first === "room" && (await front.rooms.serve(req, res, request))) return
  const found =
    (await answerLink(front, request)) ?? (await answerPage(front, request)) ?? (await elsewhere(front, request))
  send(req, res, found ?? plainAnswer(front, 404, { title: words.missing.title, paragraphs: [words.missing.text] }))
}

function refuseBody(front: Front, req: IncomingMessage, res: ServerResponse): void {
  res.setHeader("connection", "close")
  send(req, res, plainAnswer(front, 429, { title: words.join.tooMany, paragraphs: [] }))
}

function send(req: IncomingMessage, res: ServerResponse, answer: Answer): void {
  res.writeHead(answer.status, answer.headers)
  res.end(req.method === "HEAD" ? undefined : answer.body)
}
