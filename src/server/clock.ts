// Business time: what the school takes for now. It can be moved on in the demo and in tests; elsewhere it is real time.
import type { Config } from "./config"
import type { Db } from "./db/pool"

export type Clock = {
  /** Milliseconds since 1970, UTC. */
  now(): Promise<number>
}

export function clockOf(db: Db, mode: Config["mode"]): Clock {
  if (mode === "own") return { now: async () => Date.now() }
  return { now: async () => Date.now() + (await offset(db)) }
}

/** The instant that a demo or a test begins at, ms: that of `--on`, otherwise now. */
export function today(): number {
  return process.env.HERON_ON ? Date.parse(process.env.HERON_ON) : Date.now()
}

async function offset(db: Db): Promise<number> {
  return (await db.row<{ offset_ms: number }>("SELECT offset_ms FROM clock WHERE id = 1"))?.offset_ms ?? 0
}

/** Sets business time to an instant, from where it runs on. It never goes back. */
export async function setClock(db: Db, instant: number): Promise<void> {
  await db.write("UPDATE clock SET offset_ms = GREATEST(offset_ms, ?) WHERE id = 1", [Math.round(instant - Date.now())])
}
