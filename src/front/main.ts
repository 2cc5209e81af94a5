// The web process: the front server with Next behind it.
import next from "next"
import { settleTesting } from "@/server/ledger/connect"
import { openSurroundings } from "@/server/open"
import { closeSurroundings } from "@/server/surroundings"
import { frontServer } from "./server"

const port = Number(process.env.HERON_PORT ?? 4700)
const surroundings = openSurroundings(undefined, "web")
const app = next({ dev: false, dir: process.cwd(), hostname: "localhost", port })
await app.prepare()
const handler = app.getRequestHandler()
const web = frontServer(surroundings, (req, res) => handler(req, res))
await web.front.live.refresh()
await settleTesting(surroundings)
web.server.listen(port, process.env.HERON_HOST ?? "127.0.0.1", () => process.send?.("ready"))

let stopping = false
for (const signal of ["SIGTERM", "SIGINT"] as const)
  process.on(signal, async () => {
    if (stopping) return
    stopping = true
    await web.close()
    await closeSurroundings(surroundings)
    process.exit(0)
  })
process.on("disconnect", () => process.kill(process.pid, "SIGTERM"))
