// The name server stand-in as a process of its own.
import { configFromEnvironment } from "@/server/config"
import { openNames } from "./server"

const names = await openNames(configFromEnvironment().dataFolder, Number(process.env.HERON_NAMES_PORT ?? 0))
process.send?.({ ready: names.port })
for (const signal of ["SIGTERM", "SIGINT"] as const)
  process.on(signal, () => void names.close().then(() => process.exit(0)))
process.on("disconnect", () => process.exit(0))
