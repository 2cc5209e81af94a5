// The meeting service stand-in: while a room has begun, a film is fed to it as if somebody spoke. Rooms outlive a restart.
import { createReadStream } from "node:fs"
import { readFile, stat, writeFile } from "node:fs/promises"
import { createServer, type Server } from "node:http"
import { join } from "node:path"

const film = join(process.cwd(), "src/standins/meeting/speaker.mp4")

export async function openMeeting(folder: string, key: string, port = 0): Promise<{ server: Server; port: number }> {
  const file = join(folder, "meeting.json")
  const rooms = new Set(JSON.parse(await readFile(file, "utf8").catch(() => "[]")) as string[])
  const { size } = await stat(film)
  const server = createServer(async (req, res) => {
    const [, what, room] = (req.url ?? "").split("/")
    const say = (status: number) => void res.writeHead(status, { "content-length": "0" }).end()
    if (what === "rooms" && room && /^[\w.-]{1,120}$/.test(room)) {
      if (req.headers.authorization !== `Bearer ${key}`) return say(401)
      if (req.method === "PUT") rooms.add(room)
      else if (req.method === "DELETE") rooms.delete(room)
      else return say(405)
      await writeFile(file, JSON.stringify([...rooms]))
      return say(204)
    }
    if (what !== "streams" || req.method !== "GET" || !room || !rooms.has(room)) return say(404)
    const [, first, last] = /^bytes=(\d+)-(\d*)$/.exec(req.headers.range ?? "") ?? []
    const from = Number(first ?? 0)
    const to = Math.min(size - 1, last ? Number(last) : size - 1)
    if (from > to) return void res.writeHead(416, { "content-range": `bytes */${size}` }).end()
    res.writeHead(first === undefined ? 200 : 206, {
      "content-type": "video/mp4",
      "content-length": String(to - from + 1),
      "accept-ranges": "bytes",
      "cache-control": "no-store",
      ...(first === undefined ? {} : { "content-range": `bytes ${from}-${to}/${size}` }),
    })
    createReadStream(film, { start: from, end: to }).pipe(res)
  })
  await new Promise<void>((ready) => server.listen(port, "127.0.0.1", ready))
  return { server, port: (server.address() as { port: number }).port }
}
