// What answers where: the one table of routes. A page that is published is none of them; it stands where nothing else does.
import { randomBytes } from "node:crypto"
import type { IncomingMessage, ServerResponse } from "node:http"
import router from "find-my-way"
import { seenPath } from "@/core/page/compile"
import { legalKinds } from "@/core/page/legal"
import { health } from "@/server/health"
import { answerSeen, countFirstLook } from "./answer"
import type { HttpAnswer, Request } from "./exchange"
import { serveFont, serveMedia } from "./files"
import { robots, sitemap } from "./found"
import { home } from "./home"
import { legal } from "./legal"
import { hooks, links } from "./link-routes"
import { listPath, takeList } from "./list"
import { isMultipart, isWhole } from "./multipart"
import { appPolicy, commonHeaders } from "./policy"
import { preview } from "./preview"
import { backInAMoment, type Front, unreadable } from "./reply"
import { resumablePath, takeResumable } from "./resumable"
import { takeUpload, uploads } from "./upload"

export type Handler = (req: IncomingMessage, res: ServerResponse) => Promise<void>

/** A request on its way, with what stands around it for what answers it bit by bit. */
export type Exchange = {
  readonly front: Front
  readonly request: Request
  readonly req: IncomingMessage
  readonly res: ServerResponse
  readonly next: Handler
  /** What is behind the first part of the path. */
  readonly rest: string
}

export type Route = {
  /** The answer; "answered": it was written already; undefined: there is nothing of the kind, so that a page may stand there. */
  readonly answer: (x: Exchange) => Promise<HttpAnswer | "answered" | undefined>
  /** It answers without the database, too. */
  readonly alone?: true
  /** Its bodies may be long, and take their time. */
  readonly long?: true
}

const table = router<router.HTTPVersion.V1>({ caseSensitive: true })
const nothing = () => {}

/** For every method, or for POST alone; at the path itself, and with `/*` below it. */
function route(
  path: string,
  answers: Route["answer"],
  more: Omit<Route, "answer"> & { readonly post?: true } = {},
): void {
  const { post, ...rest } = more
  const kept: Route = { answer: answers, ...rest }
  for (const p of path.endsWith("/*") ? [path.slice(0, -2), path] : [path])
    if (post) table.on("POST", p, nothing, kept)
    else table.all(p, nothing, kept)
}

/** The route of a path, without its query, or undefined. */
export const routeOf = (method: string, path: string): Route | undefined =>
  table.find(method as "GET", path)?.store as Route | undefined

const taken = async (done: Promise<boolean>) => ((await done) ? "answered" : undefined)

route("/", async ({ front, request }) => home(front, request))
for (const kind of legalKinds)
  route(`/${kind}`, async ({ front, request }) => (request.method === "POST" ? undefined : legal(front, kind)))
route("/robots.txt", async ({ front }) => robots(front), { alone: true })
route("/sitemap.xml", async ({ front }) => sitemap(front), { alone: true })
route(
  "/healthz",
  async ({ front }) => {
    const state = await health(front.s)
    return {
      status: state.ok ? 200 : 503,
      headers: {
        ...commonHeaders,
        "content-type": "application/json",
        "cache-control": "no-store",
        now: String(await front.s.clock.now()),
      },
      body: JSON.stringify(state),
    }
  },
  { alone: true },
)
route(`/${seenPath}`, async ({ front, request }) => answerSeen(front, request), { alone: true })
route("/previews/*", async ({ front, rest }) => preview(front, rest))
route(
  "/fonts/*",
  async ({ front, request, res, rest }) => {
    countFirstLook(front, request)
    return taken(serveFont(rest, res))
  },
  { alone: true },
)
route(
  "/media/*",
  async ({ front, request, req, res, rest }) => {
    countFirstLook(front, request)
    return taken(serveMedia(front.s, req, res, rest, request.query.get("key") ?? ""))
  },
  { alone: true },
)
for (const [first, link] of Object.entries(links))
  route(`/${first}/*`, ({ front, request, rest }) => link(front, request, rest))
for (const [first, hook] of Object.entries(hooks))
  route(`/hooks/${first}/*`, ({ front, request, rest }) => hook(front, request, rest.slice(first.length + 1)), {
    post: true,
  })
route("/room/:token/live", async (x) =>
  x.request.method === "GET" ? taken(x.front.rooms.serve(x.req, x.res, x.request)) : undefined,
)
for (const path of Object.keys(uploads))
  route(
    `/${path}`,
    async ({ front, request, req, res }) => {
      const done = await takeUpload(front, request, req)
      // What is left of a body that was refused is not waited for.
      if (!req.complete) res.setHeader("connection", "close")
      return done
    },
    { post: true, alone: true, long: true },
  )
route(`/${resumablePath}/*`, ({ front, request, req, res }) => takeResumable(front, request, req, res), { long: true })
route(
  `/${listPath}`,
  async ({ front, request, req, res }) => {
    await takeList(front, request, req, res)
    return "answered"
  },
  { post: true, alone: true, long: true },
)
for (const first of ["studio", "learn", "affiliate", "standins", "_next", "icon.svg"])
  route(`/${first}/*`, (x) => handOn(x, first), { alone: true })

/** Next answers: what it is told is ours, not what a caller says of itself. */
async function handOn({ front, request, req, res, next }: Exchange, first: string): Promise<HttpAnswer | "answered"> {
  if (first !== "_next" && !front.live.reachable()) return backInAMoment(front, 503)
  if (isMultipart(req) && !(await isWhole(req))) return unreadable(front)
  const policy = appPolicy(randomBytes(16).toString("base64"), front.s.cards?.origin, first === "learn")
  req.headers["content-security-policy"] = policy
  req.headers["x-forwarded-for"] = request.ip
  delete req.headers["x-forwarded-host"]
  delete req.headers["x-forwarded-proto"]
  res.setHeader("content-security-policy", policy)
  for (const [name, value] of Object.entries(commonHeaders)) res.setHeader(name, value)
  await next(req, res)
  return "answered"
}
