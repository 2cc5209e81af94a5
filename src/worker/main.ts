// The worker: does what is due, again and again. Any number of them share the work.
import { hostname } from "node:os"
import { closeContext } from "@/server/context"
import { isDatabaseDown } from "@/server/db/pool"
import { doWhatWaits, sumUp, sweep } from "@/server/due-list"
import { beat } from "@/server/heartbeat"
import { askMailServer, waitsForServer } from "@/server/mail/server"
import { narrowFilm } from "@/server/media/film"
import { openContext } from "@/server/open"

const s = openContext(undefined, "worker")
const name = `worker-${hostname()}-${process.pid}`.slice(0, 60)
let running = true
const stopping = new AbortController()
const pause = (ms: number) => new Promise((r) => setTimeout(r, ms))

/** Often while there is something to do; where there is nothing it is asked for so seldom that it still begins within half a second. */
async function work(): Promise<void> {
  while (running) {
    const some = await doWhatWaits(s, name).catch((error) => report(error))
    await pause(some ? 200 : 450)
  }
}

async function everyFewSeconds(seconds: number, work: () => Promise<unknown>): Promise<void> {
  while (running) {
    await work().catch((error) => report(error))
    for (let waited = 0; running && waited < seconds * 1000; waited += 100) await pause(100)
  }
}

function report(error: unknown): void {
  if (isDatabaseDown(error)) s.log.warn("the database doesn't answer; trying again")
  else s.log.error(error)
}

/** The mail server is asked every 20 seconds, and every five while it is away or something waits for it. */
let mailWell = false
let mailAsked = 0
async function lookAtMail(): Promise<void> {
  if (mailWell && Date.now() - mailAsked < 20_000 && !(await waitsForServer(s.db))) return
  mailAsked = Date.now()
  mailWell = await askMailServer(s)
}

const loops = Promise.all([
  work(),
  everyFewSeconds(4, () => beat(s, name)),
  everyFewSeconds(5, lookAtMail),
  everyFewSeconds(5, () => sumUp(s)),
  everyFewSeconds(30, () => sweep(s)),
  everyFewSeconds(20, () => narrowFilm(s, { stop: stopping.signal })),
])
process.send?.("ready")

for (const signal of ["SIGTERM", "SIGINT"] as const)
  process.on(signal, async () => {
    if (!running) return
    running = false
    stopping.abort()
    await loops
    await s.db.write("DELETE FROM heartbeat WHERE name = ?", [name]).catch(() => {})
    await closeContext(s)
    process.exit(0)
  })
process.on("disconnect", () => process.kill(process.pid, "SIGTERM"))
