// Forms with files on their way to be handed on (RFC 7578): whole ones go on as they came, broken ones are refused here.
import { createServer, request, type Server } from "node:http"
import type { AddressInfo } from "node:net"
import fc from "fast-check"
import { afterAll, beforeAll, expect, it } from "vitest"
import { TooLong } from "@/front/exchange"
import { isMultipart, isWhole } from "@/front/multipart"

let server: Server
let port: number
beforeAll(async () => {
  server = createServer(async (req, res) => {
    if (!isMultipart(req)) return void res.writeHead(415).end()
    try {
      if (!(await isWhole(req))) return void res.writeHead(400).end()
      // Whoever reads it next finds every byte.
      const chunks: Buffer[] = []
      for await (const chunk of req) chunks.push(chunk as Buffer)
      res.end(Buffer.concat(chunks))
    } catch (error) {
      res.writeHead(error instanceof TooLong ? 413 : 500).end()
      req.destroy()
    }
  })
  await new Promise<void>((r) => server.listen(0, "127.0.0.1", () => r()))
  port = (server.address() as AddressInfo).port
})
afterAll(() => new Promise((r) => server.close(r)))

const type = "multipart/form-data; boundary=xyz"
const part = (name: string, value: string) =>
  `--xyz\r\nContent-Disposition: form-data; name="${name}"\r\n\r\n${value}\r\n`
const form = (fields: Record<string, string>) =>
  `${Object.entries(fields)
    .map(([n, v]) => part(n, v))
    .join("")}--xyz--\r\n`

/** Sends a body in pieces, with a moment between them. */
function send(pieces: readonly Buffer[], headers: Record<string, string> = { "content-type": type }) {
  return new Promise<{ status: number; body: Buffer }>((done, failed) => {
    const req = request(
      { port, host: "127.0.0.1", method: "POST", headers: { ...headers, "transfer-encoding": "chunked" } },
      (res) => {
        const chunks: Buffer[] = []
        res.on("data", (c: Buffer) => chunks.push(c))
        res.on("end", () => done({ status: res.statusCode!, body: Buffer.concat(chunks) }))
      },
    )
    req.on("error", failed)
    void (async () => {
      for (const p of pieces) {
        if (req.destroyed) return
        req.write(p)
        await new Promise((r) => setImmediate(r))
      }
      req.end()
    })()
  })
}

it("a whole one goes on to the byte, in however many pieces it came", async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.dictionary(fc.stringMatching(/^[a-z]{1,8}$/), fc.string({ unit: "grapheme", maxLength: 200 }), {
        minKeys: 1,
        maxKeys: 4,
      }),
      fc.array(fc.nat(2_000), { maxLength: 6 }),
      async (fields, cuts) => {
        const body = Buffer.from(form(fields))
        const at = [0, ...cuts.map((c) => c % body.length).sort((a, b) => a - b), body.length]
        const pieces = at.slice(1).map((end, i) => body.subarray(at[i], end))
        const got = await send(pieces.filter((p) => p.length))
        expect(got.status).toBe(200)
        expect(got.body.equals(body)).toBe(true)
      },
    ),
    { numRuns: 40, seed: 4 },
  )
})

it.each<[string, string, string]>([
  ["without its end", type, part("a", "1")],
  ["of another boundary", "multipart/form-data; boundary=abc", form({ a: "1" })],
  ["without a boundary", "multipart/form-data", form({ a: "1" })],
  ["of nothing but noise", type, "\0\0\0 not a form"],
  ["with a part that names nothing", type, "--xyz\r\nContent-Type: text/plain\r\n\r\n1\r\n--xyz--\r\n"],
])("one %s is the sender's fault", async (_, contentType, body) => {
  expect((await send([Buffer.from(body)], { "content-type": contentType })).status).toBe(400)
})

it("one that is larger than any form of ours is read no further", async () => {
  const mega = Buffer.alloc(256 * 1024, 97)
  const got = await send([Buffer.from(part("a", "")), ...Array.from({ length: 12 }, () => mega)]).catch(() => ({
    status: 413,
  }))
  expect(got.status).toBe(413)
})

it("other forms are not its business", async () => {
  const got = await send([Buffer.from("a=1")], { "content-type": "application/x-www-form-urlencoded" })
  expect(got.status).toBe(415)
})
