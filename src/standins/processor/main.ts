// The card processor stand-in as a process of its own, reached over HTTP on loopback as an outside service would be.
import { join } from "node:path"
import { configFromEnvironment } from "@/server/config"
import { openProcessor } from "./server"

const config = configFromEnvironment()
const processor = await openProcessor({
  folder: join(config.dataFolder, "processor"),
  port: Number(process.env.HERON_CARDS_PORT ?? 0),
  key: config.standIns.cards?.key ?? "",
  hookTo: `http://127.0.0.1:${process.env.HERON_PORT}/hooks/cards`,
  hookSecret: config.standIns.cards?.hookSecret ?? "",
})
process.send?.({ ready: processor.port })
for (const signal of ["SIGTERM", "SIGINT"] as const)
  process.on(signal, () => void processor.close().then(() => process.exit(0)))
process.on("disconnect", () => process.exit(0))
