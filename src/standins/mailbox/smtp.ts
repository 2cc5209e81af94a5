// The mailbox stand-in: a real SMTP server that keeps what it is sent. Addresses that begin with "refuse." are refused
// for good, and those that begin with "later." for now, so that both can be tried; of some that it takes it reports later
// (report.ts).
import { SMTPServer, type SMTPServerEnvelope } from "smtp-server"
import { reportsOf, reportText } from "./report"
import { keepMessage, lastId } from "./store"

export type Mailbox = { readonly port: number; close(): Promise<void> }

/** `reportTo`: where reports of what became of a message are handed in; empty: nowhere. */
export async function openMailbox(folder: string, port = 0, reportTo = ""): Promise<Mailbox> {
  let id = await lastId(folder)
  let queue: Promise<unknown> = Promise.resolve()
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ["AUTH", "STARTTLS"],
    disableReverseLookup: true,
    logger: false,
    size: 25 * 1024 * 1024,
    onRcptTo(address, _session, done) {
      if (/^refuse\./i.test(address.address))
        return done(Object.assign(new Error("5.1.1 No such mailbox here"), { responseCode: 550 }))
      if (/^later\./i.test(address.address))
        return done(Object.assign(new Error("4.2.1 Mailbox busy, try again later"), { responseCode: 450 }))
      done()
    },
    onData(stream, session, done) {
      const { envelope } = session
      const chunks: Buffer[] = []
      stream.on("data", (c: Buffer) => chunks.push(c))
      stream.on("end", () => {
        const rcpt = envelope.rcptTo.map((r) => r.address)
        queue = queue
          .then(() => keepMessage(folder, ++id, Buffer.concat(chunks), rcpt))
          .then(
            () => {
              done()
              void report(reportTo, envelope, Buffer.concat(chunks).toString("latin1"))
            },
            (error) => done(error),
          )
      })
    },
  })
  server.on("error", () => {})
  await new Promise<void>((ready, failed) => {
    server.once("error", failed)
    server.listen(port, "127.0.0.1", () => ready())
  })
  const address = server.server.address()
  return {
    port: typeof address === "object" && address ? address.port : port,
    close: () => new Promise((done) => server.close(() => done())),
  }
}

/** Reports what became of a message, a moment later. */
async function report(to: string, envelope: SMTPServerEnvelope, raw: string): Promise<void> {
  const address = envelope.rcptTo[0]?.address ?? ""
  const what = reportsOf(address)
  const from = envelope.mailFrom ? envelope.mailFrom.address : ""
  if (!to || !what || !from) return
  await new Promise((wait) => setTimeout(wait, 300))
  await fetch(to, { method: "POST", body: reportText(what, address, from, raw) }).catch(() => {})
}
