// What the school is connected to: the card processor and the meeting service, as they were set in Settings. They stand in a file of
// the installation that only its owner can read; what the environment names comes before it, and the stand-ins after.
import { existsSync, readFileSync, renameSync, statSync, writeFileSync } from "node:fs"
import { join } from "node:path"
import type { Config } from "./config"
import { type CardProcessor, type CardsConfig, httpCards } from "./port/cards"
import { httpMeeting, type Meeting, type MeetingConfig } from "./port/meeting"

export type Connections = { readonly cards: CardsConfig | null; readonly meeting: MeetingConfig | null }

const none: Connections = { cards: null, meeting: null }
const fileOf = (config: Pick<Config, "dataFolder">) => join(config.dataFolder, "connections.json")

/** As every process of the installation reads them; looked at again once the file has changed. */
const known = new Map<string, { readonly changed: number; readonly read: Connections }>()

export function readConnections(config: Pick<Config, "dataFolder">): Connections {
  const file = fileOf(config)
  if (!existsSync(file)) return none
  const changed = statSync(file).mtimeMs
  const before = known.get(file)
  if (before?.changed === changed) return before.read
  const read: Connections = { ...none, ...JSON.parse(readFileSync(file, "utf8")) }
  known.set(file, { changed, read })
  return read
}

/** Whole or not at all: another process may be reading. */
export function keepConnections(config: Pick<Config, "dataFolder">, connections: Connections): void {
  const file = fileOf(config)
  writeFileSync(`${file}.new`, JSON.stringify(connections, null, 2), { mode: 0o600 })
  renameSync(`${file}.new`, file)
  known.delete(file)
}

type Connected<T> = { readonly of: T; readonly by: "environment" | "settings" | "stand-in" }

function connected<T>(environment: T | null, settings: T | null, standIn: T | null): Connected<T> | null {
  if (environment) return { of: environment, by: "environment" }
  if (settings) return { of: settings, by: "settings" }
  return standIn && { of: standIn, by: "stand-in" }
}

export const cardsConnected = (config: Config) =>
  connected(config.cards, readConnections(config).cards, config.standIns.cards)
export const meetingConnected = (config: Config) =>
  connected(config.meeting, readConnections(config).meeting, config.standIns.meeting)

/** Whether what is ordered in a school of one's own is a test: nothing but the stand-in charges cards. */
export const isTrying = (config: Config): boolean => config.mode === "own" && cardsConnected(config)?.by === "stand-in"

/** The same port for as long as it is connected to the same thing. */
function portTo<C, P>(find: () => Connected<C> | null, open: (config: C, test: boolean) => P): () => P | null {
  let last: { readonly to: string; readonly port: P } | null = null
  return () => {
    const now = find()
    if (!now) return null
    const to = JSON.stringify(now)
    if (last?.to !== to) last = { to, port: open(now.of, now.by === "stand-in") }
    return last.port
  }
}

/** The ports as they are connected at each look; whoever has one in hand ends with it what was begun. */
export function openPorts(config: Config): { readonly cards: CardProcessor | null; readonly meeting: Meeting | null } {
  const cards = portTo(() => cardsConnected(config), httpCards)
  const meeting = portTo(() => meetingConnected(config), httpMeeting)
  return {
    get cards() {
      return cards()
    },
    get meeting() {
      return meeting()
    },
  }
}
