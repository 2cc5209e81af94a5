// A form with files, before it is handed on: whole and readable, or refused here, so that a broken one is the sender's fault
// and no error of ours.
import type { IncomingMessage } from "node:http"
import { TooLong } from "./exchange"

/** The most a form that is handed on may hold, as in next.config.ts. */
const most = 2 * 1024 * 1024

export function isMultipart(req: IncomingMessage): boolean {
  return req.method === "POST" && /^multipart\/form-data/i.test(req.headers["content-type"] ?? "")
}

/** Reads the body, says whether it is a form, and puts it back for whoever reads it next. Throws TooLong. */
export async function isWhole(req: IncomingMessage): Promise<boolean> {
  const body = await peek(req)
  try {
    await new Response(new Uint8Array(body), { headers: { "content-type": req.headers["content-type"]! } }).formData()
    return true
  } catch {
    return false
  }
}

function peek(req: IncomingMessage): Promise<Buffer> {
  return new Promise((done, failed) => {
    const chunks: Buffer[] = []
    let size = 0
    const read = () => {
      for (let chunk = req.read() as Buffer | null; chunk !== null; chunk = req.read() as Buffer | null) {
        chunks.push(chunk)
        size += chunk.length
      }
      if (size > most) return finish(() => failed(new TooLong()))
      if (!req.complete) return
      const body = Buffer.concat(chunks)
      // Before the stream has said that it ended, so that it begins again.
      if (body.length) req.unshift(body)
      finish(() => done(body))
    }
    const gone = () => finish(() => failed(new Error("the request ended in the middle")))
    const finish = (then: () => void) => {
      req.off("readable", read)
      req.off("close", gone)
      then()
    }
    req.on("readable", read)
    req.on("close", gone)
    read()
  })
}
