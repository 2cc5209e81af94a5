// Bodies of requests on their way in: each has a time to come whole and a time it may stand still, and one connection may
// have only so many under way.
import type { IncomingMessage, ServerResponse } from "node:http"
import { connectionOf } from "@/core/person/connection"

export type Patience = {
  /** Longest time for the whole body, ms. */
  readonly whole: number
  /** Longest time without a byte, ms. */
  readonly still: number
}

const forms: Patience = { whole: 20_000, still: 8_000 }
const uploads: Patience = { whole: 7_200_000, still: 30_000 }
/** Bodies under way from one connection. */
const most = 100

type Body = { res: ServerResponse; patience: Patience; since: number; bytes: number; moved: number; from: string }

export type Bodies = {
  /** Watches a request's body; false where its connection has too many under way. */
  watch(req: IncomingMessage, res: ServerResponse, ip: string, upload: boolean): boolean
  stop(): void
}

export function watchBodies(patience: { forms?: Patience; uploads?: Patience; most?: number } = {}): Bodies {
  const open = new Map<IncomingMessage, Body>()
  const byConnection = new Map<string, number>()
  const drop = (req: IncomingMessage) => {
    const body = open.get(req)
    if (!body || !open.delete(req)) return
    const left = (byConnection.get(body.from) ?? 1) - 1
    if (left > 0) byConnection.set(body.from, left)
    else byConnection.delete(body.from)
  }
  const timer = setInterval(() => {
    const now = Date.now()
    for (const [req, body] of open) {
      const bytes = req.socket.bytesRead
      if (req.complete || req.destroyed) {
        drop(req)
        continue
      }
      if (bytes !== body.bytes) {
        body.bytes = bytes
        body.moved = now
      }
      if (now - body.since <= body.patience.whole && now - body.moved <= body.patience.still) continue
      drop(req)
      // RFC 9110, 15.5.9: the server gives up waiting, and closes.
      if (!body.res.headersSent) body.res.writeHead(408, { connection: "close" }).end()
      req.socket.destroySoon()
    }
  }, 500)
  timer.unref()
  return {
    watch(req, res, ip, upload) {
      if (req.headers["transfer-encoding"] === undefined && !(Number(req.headers["content-length"]) > 0)) return true
      const from = connectionOf(ip)
      const n = byConnection.get(from) ?? 0
      if (n >= (patience.most ?? most)) return false
      byConnection.set(from, n + 1)
      const now = Date.now()
      const of = upload ? (patience.uploads ?? uploads) : (patience.forms ?? forms)
      open.set(req, { res, patience: of, since: now, bytes: req.socket.bytesRead, moved: now, from })
      req.once("end", () => drop(req))
      req.once("close", () => drop(req))
      return true
    },
    stop: () => clearInterval(timer),
  }
}
