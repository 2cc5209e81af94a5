// An SMTP server that takes everything and keeps only the addresses, to measure senders against.
import { SMTPServer } from "smtp-server"

const seen = new Map<string, number>()
const server = new SMTPServer({
  authOptional: true,
  disabledCommands: ["AUTH", "STARTTLS"],
  disableReverseLookup: true,
  onData(stream, session, done) {
    stream.resume()
    stream.on("end", () => {
      for (const r of session.envelope.rcptTo) seen.set(r.address, (seen.get(r.address) ?? 0) + 1)
      done()
    })
  },
})
server.listen(0, "127.0.0.1", () => process.send!((server.server.address() as { port: number }).port))
process.on("message", () => {
  process.send!({
    messages: [...seen.values()].reduce((a, b) => a + b, 0),
    twice: [...seen.values()].filter((n) => n > 1).length,
  })
  seen.clear()
})
process.on("disconnect", () => process.exit(0))
