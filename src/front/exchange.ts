// A request and its answer as the public side sees them: plain values, without a server around them.
import type { IncomingMessage } from "node:http"
import { parse } from "node:querystring"
import { parse as parseCookie } from "cookie"

export type Request = {
  readonly method: string
  /** Without the leading slash and the query. */
  readonly path: string
  readonly query: URLSearchParams
  readonly headers: IncomingMessage["headers"]
  readonly ip: string
  readonly cookies: Readonly<Record<string, string | undefined>>
  /** The fields of a form, at most 64 KB of it; throws TooLong beyond. */
  form(): Promise<Readonly<Record<string, string>>>
  /** The body as it came, with the same limit, or another (bytes). */
  text(most?: number): Promise<string>
  /** From here on it is answered truly or not at all, since what it does can't be undone by saying “later”. */
  mustEnd(): void
}

export type HttpAnswer = {
  readonly status: number
  readonly headers: Record<string, string | string[]>
  readonly body: string | Buffer
}

export class TooLong extends Error {}

const longestForm = 64 * 1024

export function requestOf(req: IncomingMessage, trustProxy: boolean, mustEnd: () => void = () => {}): Request {
  const url = req.url ?? "/"
  const at = url.indexOf("?")
  // Parsed when asked for: most requests are for a page, and ask for little.
  let query: URLSearchParams | undefined
  let cookies: Readonly<Record<string, string | undefined>> | undefined
  return {
    method: req.method ?? "GET",
    path: at < 0 ? url.slice(1) : url.slice(1, at),
    headers: req.headers,
    get query() {
      query ??= new URLSearchParams(at < 0 ? "" : url.slice(at + 1))
      return query
    },
    get ip() {
      return ipOf(req, trustProxy)
    },
    get cookies() {
      cookies ??= parseCookie(req.headers.cookie ?? "", { decode: String })
      return cookies
    },
    form: async () => fieldsOf(await readText(req)),
    text: (most) => readText(req, most),
    mustEnd,
  }
}

function ipOf(req: IncomingMessage, trustProxy: boolean): string {
  const forwarded = trustProxy
    ? String(req.headers["x-forwarded-for"] ?? "")
        .split(",")
        .at(-1)
        ?.trim()
    : ""
  return (forwarded || req.socket.remoteAddress || "").replace(/^::ffff:/, "").slice(0, 45)
}

/** The encoding of a finished page that a browser takes. */
export function encodingFor(header: string | string[] | undefined): "br" | "gzip" | "identity" {
  const accepts = String(header ?? "")
  if (/\bbr\b(?!\s*;\s*q=0(\.0*)?\b)/.test(accepts)) return "br"
  return /\bgzip\b(?!\s*;\s*q=0(\.0*)?\b)/.test(accepts) ? "gzip" : "identity"
}

async function readText(req: IncomingMessage, most = longestForm): Promise<string> {
  const chunks: Buffer[] = []
  let size = 0
  for await (const chunk of req as AsyncIterable<Buffer>) {
    size += chunk.length
    if (size > most) throw new TooLong()
    chunks.push(chunk)
  }
  return Buffer.concat(chunks).toString("utf8")
}

function fieldsOf(text: string): Record<string, string> {
  const fields: Record<string, string> = {}
  for (const [name, value] of Object.entries(parse(text)))
    fields[name] = String(Array.isArray(value) ? value[0] : value)
  return fields
}
