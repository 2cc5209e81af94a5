// What a use case works with, as one value: nothing reaches for a global, so a test or a second process brings its own.
import pino from "pino"
import "./messages"
import { type Clock, clockOf } from "./clock"
import { type Config, configFromEnvironment } from "./config"
import { type Database, openDatabase } from "./db/pool"
import { type Mailer, smtpMailer } from "./mail/mailer"
import { type Cards, httpCards } from "./offer/cards"

export type Surroundings = {
  readonly db: Database
  readonly clock: Clock
  readonly config: Config
  readonly mailer: Mailer
  readonly cards: Cards | null
  readonly log: pino.Logger
}

/** How long a statement may take where somebody waits for it, ms; elsewhere a minute. */
const whileWaiting = 10_000

export function openSurroundings(config: Config = configFromEnvironment(), name = "heron"): Surroundings {
  const db = openDatabase(config.databaseUrl, 12, name === "web" ? whileWaiting : undefined)
  return {
    db,
    clock: clockOf(db, config.mode),
    config,
    mailer: smtpMailer(config.smtpUrl),
    cards: config.cards && httpCards(config.cards),
    log: pino({ name, level: process.env.HERON_LOG ?? (config.mode === "test" ? "silent" : "warn") }),
  }
}

export async function closeSurroundings(s: Surroundings): Promise<void> {
  s.mailer.close()
  await s.db.end()
}
