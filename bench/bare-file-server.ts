// The yardstick for videos: a bare Node server that sends ranges of one file, and does nothing else.
import { createReadStream } from "node:fs"
import { createServer } from "node:http"

process.on("message", ({ path, size }: { path: string; size: number }) => {
  const server = createServer((req, res) => {
    const [, from, to] = /^bytes=(\d+)-(\d+)$/.exec(req.headers.range ?? "") ?? []
    const [start, end] = [Number(from), Number(to)]
    res.writeHead(206, {
      "content-type": "video/mp4",
      "accept-ranges": "bytes",
      "content-range": `bytes ${start}-${end}/${size}`,
      "content-length": end - start + 1,
    })
    createReadStream(path, { start, end }).pipe(res)
  })
  server.listen(0, "127.0.0.1", () => process.send!((server.address() as { port: number }).port))
})
process.on("disconnect", () => process.exit(0))
