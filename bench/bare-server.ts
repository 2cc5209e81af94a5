// The yardstick for pages: a bare Node server that sends the same bytes with the same headers, and does nothing else.
import { createServer } from "node:http"

process.on("message", ({ body, headers }: { body: string; headers: Record<string, string> }) => {
  const bytes = Buffer.from(body, "base64")
  const server = createServer((_, res) => {
    res.writeHead(200, headers)
    res.end(bytes)
  })
  server.listen(0, "127.0.0.1", () => process.send!((server.address() as { port: number }).port))
})
process.on("disconnect", () => process.exit(0))
