// A list of people to be let in: its lines as the body, how far it is as lines of JSON while it is done, and then what became
// of each. All of it is one transaction: a list that is cut off on its way has let nobody in.
import type { IncomingMessage, ServerResponse } from "node:http"
import { actingAs } from "@/server/context"
import { letPeopleIn } from "@/server/course/let-in"
import { sessionCookie, studioSessionOf } from "@/server/person/session"
import type { Request } from "./exchange"
import { commonHeaders } from "./policy"
import type { Front } from "./reply"

export const listPath = "studio/let-in"

/** The longest list, bytes: a hundred thousand lines of two hundred. */
const longest = 20e6

export async function takeList(
  front: Front,
  request: Request,
  req: IncomingMessage,
  res: ServerResponse,
): Promise<void> {
  const { s } = front
  const say = (status: number, what: object) => {
    if (!res.headersSent)
      res.writeHead(status, { ...commonHeaders, "content-type": "application/x-ndjson", "cache-control": "no-store" })
    res.write(`${JSON.stringify(what)}\n`)
  }
  const refuse = (status: number, refused: string) => {
    if (!req.complete) res.setHeader("connection", "close")
    say(status, { refused })
    res.end()
  }
  const session = await studioSessionOf(s.db, request.cookies[sessionCookie(s.config, "studio")])
  if (session === null) return refuse(401, "Sign in again, please.")
  const { origin } = request.headers
  if (origin !== undefined && origin !== s.config.origin) return refuse(403, "This came from another site.")
  const people = await textOf(req)
  if (people === null) return refuse(413, "That list is too long: at most 100,000 lines.")
  const number = (name: string) => Number(request.query.get(name)) || null
  const input = {
    course: number("course"),
    module: number("module"),
    media: number("media"),
    people,
    until: request.query.get("until") || null,
    tells: request.query.get("tells") === "1",
    consent: request.query.get("consent") ?? "",
    batch: request.query.get("batch") ?? undefined,
  }
  const as = actingAs(s, { is: "account", id: session.account })
  const done = await letPeopleIn(as, input, (n, of) => {
    // Whoever has gone away meanwhile hears nothing; what was begun is taken back.
    if (res.destroyed) throw new Gone()
    if (n < of) say(200, { done: n, of })
  }).catch((error) => {
    if (error instanceof Gone) return null
    throw error
  })
  if (done === null) return
  say(200, done)
  res.end()
}

class Gone extends Error {}

/** The body as text; null where it is too long. */
async function textOf(req: IncomingMessage): Promise<string | null> {
  const parts: Buffer[] = []
  let size = 0
  for await (const part of req as AsyncIterable<Buffer>) {
    size += part.length
    if (size > longest) return null
    parts.push(part)
  }
  return Buffer.concat(parts).toString("utf8")
}
