// The front server as a process of its own, without Next behind it, for the benchmark of a room.
import { frontServer } from "@/front/server"
import { configFromEnvironment } from "@/server/config"
import { openContext } from "@/server/open"

const s = openContext(configFromEnvironment(), "web")
const web = frontServer(s, async (_, res) => void res.writeHead(404).end())
await web.front.live.refresh()
web.server.listen(Number(process.env.HERON_PORT), "127.0.0.1", () => process.send?.({ ready: true }))
process.on("disconnect", () => process.exit(0))
