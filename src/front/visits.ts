// Visitors on their way into the database: collected for a moment, written by the hundred, and in a rush at a steady pace,
// so that counting never takes the machine away from answering. A visit isn't a promise: what was not yet written, as a
// rule a fifth of a second's, is lost with the process.

import type { Context } from "@/server/context"
import { type Visit as Arrived, recordNewcomers } from "@/server/funnel/journey"
import { comeByLooking } from "@/server/funnel/leave"
import { type RobotLooks, recordRobots, robotKey } from "@/server/funnel/robots"

/** With the release of the page they looked at. */
export type VisitSeen = Arrived & { readonly release: number }

export type Visits = {
  /** `newcomer`: the visitor was given their id a moment ago, and nothing else is known of them. */
  add(visit: VisitSeen, newcomer: boolean): void
  /** A program looked at a page where a funnel begins (ms of business time). */
  addRobot(funnel: number, at: number): void
  flush(): Promise<boolean>
  stop(): Promise<void>
}

const flushEvery = 200
/** Kept while the database is away; beyond it the oldest go. */
const mostKept = 100_000
/** Written in one go: with the pause between, at most 2,500 newcomers a second. */
const batch = 500

export function collectVisits(s: Context): Visits {
  let newcomers: VisitSeen[] = []
  let returning: VisitSeen[] = []
  let robots: RobotLooks = new Map()
  const counted = new Set<string>()
  let running: Promise<boolean> | undefined

  /** Writes some of what was collected; whether the database took it. */
  const write = async () => {
    const fresh = newcomers.splice(0, batch)
    const again = returning
    returning = []
    const programs = robots
    robots = new Map()
    try {
      await recordNewcomers(s.db, fresh)
      fresh.length = 0
      while (again.length) {
        const v = again[0]!
        await s.db.transaction((tx) => comeByLooking(tx, v))
        again.shift()
      }
      await recordRobots(s.db, programs)
      return true
    } catch (error) {
      s.log.warn(error, "visits are kept until the database is back")
      newcomers = [...fresh, ...newcomers].slice(-mostKept)
      returning = [...again, ...returning].slice(-mostKept)
      for (const [key, n] of programs) robots.set(key, (robots.get(key) ?? 0) + n)
      return false
    }
  }
  const flush = () => {
    running ??= write().finally(() => {
      running = undefined
    })
    return running
  }
  const timer = setInterval(() => {
    if (newcomers.length || returning.length || robots.size) void flush()
  }, flushEvery)
  return {
    add(visit, newcomer) {
      // Once an hour is enough to know that somebody is still there; a browser asks for several things at once.
      const key = `${visit.funnel}:${visit.step}:${visit.visitor.toString("base64")}:${newcomer || Math.floor(visit.at / 3_600_000)}`
      if (counted.has(key)) return
      if (counted.size > 50_000) counted.clear()
      counted.add(key)
      if (newcomer) {
        if (newcomers.length < mostKept) newcomers.push(visit)
        return
      }
      if (returning.length < mostKept) returning.push(visit)
    },
    addRobot(funnel, at) {
      const key = robotKey(funnel, at)
      robots.set(key, (robots.get(key) ?? 0) + 1)
    },
    flush,
    async stop() {
      clearInterval(timer)
      await running
      while ((newcomers.length || returning.length || robots.size) && (await flush()));
    },
  }
}
