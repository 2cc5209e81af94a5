// The meeting service stand-in as a process of its own.
import { configFromEnvironment } from "@/server/config"
import { openMeeting } from "./server"

const { standIns, dataFolder } = configFromEnvironment()
const { server, port } = await openMeeting(
  dataFolder,
  standIns.meeting?.key ?? "",
  Number(process.env.HERON_MEETING_PORT ?? 0),
)
process.send?.({ ready: port })
const end = () => {
  server.close(() => process.exit(0))
  server.closeAllConnections()
}
for (const signal of ["SIGTERM", "SIGINT"] as const) process.on(signal, end)
process.on("disconnect", () => process.exit(0))
