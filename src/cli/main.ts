// The commands of heron.
import { rmSync } from "node:fs"
import { parseArgs } from "node:util"
import { Stop, say } from "./say"

const help = `Swift Heron

  ./heron demo [--port N] [--fresh]   installs what is missing and starts the demo school
  ./heron start [--port N]            starts a school of your own (DATABASE_URL, SMTP_URL, HERON_ORIGIN where set)
  ./heron test [words]                type-check, lint, unit, server and browser tests
  ./heron bench [words]               benchmarks, each against what it is measured by
  ./heron screenshots                 makes docs/screenshots anew from the demo data
  ./heron reset                       empties the demo; a school of your own stays
  ./heron help                        this`

const { positionals, values } = parseArgs({
  allowPositionals: true,
  options: {
    port: { type: "string" },
    fresh: { type: "boolean", default: false },
    help: { type: "boolean", default: false },
  },
})
const command = values.help ? "help" : (positionals[0] ?? "help")
const port = values.port === undefined ? undefined : Number(values.port)

try {
  if (port !== undefined && !(Number.isInteger(port) && port > 0 && port < 65_536))
    throw new Stop("--port wants a number from 1 to 65535.")
  switch (command) {
    case "demo":
      await (await import("./run")).runDemo({ port: port ?? 4700, fresh: values.fresh })
      break
    case "start":
      await (await import("./run")).runOwn({ port: port ?? 4700 })
      break
    case "test":
      process.exitCode = await (await import("./test")).runTests(positionals.slice(1))
      break
    case "bench":
      await (await import("../../bench/main")).runBenchmarks(positionals.slice(1))
      break
    case "screenshots":
      await (await import("./screenshots")).takeScreenshots()
      break
    case "reset":
      rmSync(".data/demo", { recursive: true, force: true })
      say("The demo is emptied. ./heron demo fills it again.")
      break
    case "help":
      say(help)
      break
    default:
      throw new Stop(`There is no command “${command}”.\n\n${help}`)
  }
} catch (error) {
  if (!(error instanceof Stop)) throw error
  console.error(error.message)
  process.exitCode = 1
}
