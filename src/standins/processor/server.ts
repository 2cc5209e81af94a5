// The stand-in's HTTP server: its interface for schools, its card fields, its bank page, its bad behaviour.
import { readFileSync } from "node:fs"
import { createServer, type IncomingMessage, type ServerResponse } from "node:http"
import type { AddressInfo } from "node:net"
import { parse } from "node:querystring"
import * as api from "./api"
import { openHooks } from "./hooks"
import { bankPage, behaviours, controlPage, fieldsPage } from "./pages"
import { type Behaviour, Store } from "./store"

export type Processor = {
  readonly port: number
  readonly origin: string
  readonly store: Store
  close(): Promise<void>
}

export type ProcessorOptions = {
  readonly folder: string
  readonly port: number
  /** What a school's server shows to be let in. */
  readonly key: string
  readonly hookTo: string
  readonly hookSecret: string
}

export async function openProcessor(o: ProcessorOptions): Promise<Processor> {
  const store = new Store(o.folder)
  let origin = ""
  const hooks = openHooks(store, o.hookTo, o.hookSecret, (p) => api.shown(p, origin))
  const server = createServer((req, res) => {
    answer(req, res).catch(() => res.destroy())
  })

  async function answer(req: IncomingMessage, res: ServerResponse): Promise<void> {
    const { pathname, searchParams } = new URL(req.url ?? "/", "http://processor")
    const place = `${req.method} ${pathname}`
    const html = (body: string) => res.writeHead(200, { "content-type": "text/html; charset=utf-8" }).end(body)
    const json = (reply: api.Reply) =>
      res.writeHead(reply.status, { "content-type": "application/json" }).end(JSON.stringify(reply.body))
    if (place === "GET /") return void html(controlPage(store))
    if (place === "POST /behaviour") {
      const fields = parse(await bodyOf(req))
      store.behaviour = behaviourFrom(fields, store.behaviour)
      return void res.writeHead(303, { location: "/" }).end()
    }
    if (place === "GET /openapi.json")
      return void json({
        status: 200,
        body: JSON.parse(readFileSync("src/standins/processor/openapi.json", "utf8")),
      })
    if (place === "GET /fields") return void html(fieldsPage())
    if (place === "POST /tokens") return void json(api.tokenise(store, parsed(await bodyOf(req))))
    const bank = /^\/bank\/([\w-]+)$/.exec(pathname)?.[1]
    if (bank) {
      const payment = store.payments.get(bank)
      if (!payment) return void res.writeHead(404).end()
      if (req.method !== "POST") return void html(bankPage(payment))
      const done = api.confirmAtBank(store, bank, parse(await bodyOf(req)).agreed === "1")!
      hooks.send(done)
      return void res.writeHead(303, { location: done.returnTo }).end()
    }
    const disputed = /^\/dispute\/([\w-]+)$/.exec(pathname)?.[1]
    if (disputed && req.method === "POST") {
      const made = api.dispute(store, disputed)
      if (made) hooks.tell(made)
      return void res.writeHead(303, { location: "/" }).end()
    }
    if (req.headers.authorization !== `Bearer ${o.key}`)
      return void json({ status: 401, body: { error: "who are you?" } })
    const { answers, slowMs } = store.behaviour
    if (answers === "not at all") return void res.destroy()
    // Read before it is slow: what was asked is done, whether anybody still waits for the answer or not.
    const body = parsed(await bodyOf(req))
    if (answers === "slowly") await new Promise((r) => setTimeout(r, slowMs))
    if (answers === "with an error") return void json({ status: 500, body: { error: "something went wrong" } })
    const reply = call(place, String(req.headers["idempotency-key"] ?? ""), searchParams, body)
    if (reply.payment) hooks.send(reply.payment)
    if (answers === "with an error after charging" && req.method === "POST")
      return void json({ status: 500, body: { error: "something went wrong" } })
    json(reply)
  }

  function call(
    place: string,
    key: string,
    query: URLSearchParams,
    body: unknown,
  ): (api.Reply & { payment?: never }) | ReturnType<typeof api.pay> {
    switch (place) {
      case "POST /payments":
        return api.pay(store, origin, key, body)
      case "GET /payments":
        return api.askByKey(store, origin, query.get("key") ?? "")
      case "POST /give-up":
        return api.giveUp(store, origin, key)
      case "POST /cards":
        return api.keepCard(store, key, body)
      case "POST /refunds":
        return api.refund(store, key, body)
      default:
        return { status: 404, body: { error: "no such thing" } }
    }
  }

  await new Promise<void>((ready) => server.listen(o.port, "127.0.0.1", ready))
  const { port } = server.address() as AddressInfo
  origin = `http://localhost:${port}`
  return {
    port,
    origin,
    store,
    close: () =>
      new Promise((done) => {
        hooks.stop()
        server.close(() => done())
        server.closeAllConnections()
      }),
  }
}

function behaviourFrom(fields: ReturnType<typeof parse>, old: Behaviour): Behaviour {
  const seconds = (value: unknown, before: number) => {
    const n = Number(value)
    return Number.isFinite(n) && n >= 0 && n <= 120 ? n * 1000 : before
  }
  return {
    answers: behaviours.answers.find((a) => a === fields.answers) ?? old.answers,
    hooks: behaviours.hooks.find((h) => h === fields.hooks) ?? old.hooks,
    keeps: behaviours.keeps.find((k) => k === fields.keeps) ?? old.keeps,
    slowMs: seconds(fields.slow, old.slowMs),
    lateMs: seconds(fields.late, old.lateMs),
  }
}

async function bodyOf(req: IncomingMessage): Promise<string> {
  const chunks: Buffer[] = []
  let size = 0
  for await (const chunk of req as AsyncIterable<Buffer>) {
    size += chunk.length
    if (size > 64 * 1024) throw new Error("too long")
    chunks.push(chunk)
  }
  return Buffer.concat(chunks).toString("utf8")
}

function parsed(body: string): unknown {
  try {
    return body ? JSON.parse(body) : null
  } catch {
    return null
  }
}
