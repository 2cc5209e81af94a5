// Puts the context together: the database with its listeners, the clock, and the ports to the outside.
import pino from "pino"
import "./messages"
import { nobody, theWorker } from "@/core/person/actor"
import { words } from "@/core/words/en"
import { clockOf } from "./clock"
import { type Config, configFromEnvironment } from "./config"
import { openPorts } from "./connection"
import type { Context } from "./context"
import { openDatabase } from "./db/pool"
import { wiring } from "./listeners"
import { smtpMailer } from "./port/mailer"

/** How long a statement may take where somebody waits for it, ms; elsewhere a minute. */
const whileWaiting = 10_000

/** `name` is the process: in a worker it is the school itself that acts, elsewhere nobody has shown yet who they are. */
export function openContext(config: Config = configFromEnvironment(), name = "heron"): Context {
  const actor = name === "worker" ? theWorker : nobody
  const db = openDatabase(config.databaseUrl, 12, name === "web" ? whileWaiting : undefined, wiring).as(actor)
  const ports = openPorts(config)
  return {
    db,
    clock: clockOf(db, config.mode),
    config,
    mailer: smtpMailer(config.smtpUrl),
    // As they are connected at each look: Settings may connect another one while this runs.
    get cards() {
      return ports.cards
    },
    get meeting() {
      return ports.meeting
    },
    log: pino({ name, level: process.env.HERON_LOG ?? (config.mode === "test" ? "silent" : "warn") }),
    actor,
    releases: db.context.releases,
    words,
  }
}
