// Puts the surroundings together: the database with its listeners, the clock, and the ports to the outside.
import pino from "pino"
import "./messages"
import { nobody, theWorker } from "@/core/person/actor"
import { words } from "@/core/words/en"
import { clockOf } from "./clock"
import { type Config, configFromEnvironment } from "./config"
import { openDatabase } from "./db/pool"
import { wiring } from "./listeners"
import { httpCards } from "./port/cards"
import { smtpMailer } from "./port/mailer"
import { httpMeeting } from "./port/meeting"
import type { Surroundings } from "./surroundings"

/** How long a statement may take where somebody waits for it, ms; elsewhere a minute. */
const whileWaiting = 10_000

/** `name` is the process: in a worker it is the school itself that acts, elsewhere nobody has shown yet who they are. */
export function openSurroundings(config: Config = configFromEnvironment(), name = "heron"): Surroundings {
  const actor = name === "worker" ? theWorker : nobody
  const db = openDatabase(config.databaseUrl, 12, name === "web" ? whileWaiting : undefined, wiring).as(actor)
  return {
    db,
    clock: clockOf(db, config.mode),
    config,
    mailer: smtpMailer(config.smtpUrl),
    cards: config.cards && httpCards(config.cards),
    meeting: config.meeting && httpMeeting(config.meeting),
    log: pino({ name, level: process.env.HERON_LOG ?? (config.mode === "test" ? "silent" : "warn") }),
    actor,
    releases: db.around.releases,
    words,
  }
}
