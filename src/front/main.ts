// The web process: the front server with Next behind it.
import next from "next"
import { closeContext } from "@/server/context"
import { settleTesting } from "@/server/ledger/connect"
import { openContext } from "@/server/open"
import { frontServer } from "./server"

const port = Number(process.env.HERON_PORT ?? 4700)
const context = openContext(undefined, "web")
const app = next({ dev: false, dir: process.cwd(), hostname: "localhost", port })
await app.prepare()
const handler = app.getRequestHandler()
const web = frontServer(context, (req, res) => handler(req, res))
await web.front.live.refresh()
await settleTesting(context)
web.server.listen(port, process.env.HERON_HOST ?? "127.0.0.1", () => process.send?.("ready"))

let stopping = false
for (const signal of ["SIGTERM", "SIGINT"] as const)
  process.on(signal, async () => {
    if (stopping) return
    stopping = true
    await web.close()
    await closeContext(context)
    process.exit(0)
  })
process.on("disconnect", () => process.kill(process.pid, "SIGTERM"))
