"use server"

import { studio } from "@/app/guard"
import { moveClock } from "@/server/due-list"

export async function moveClockAction(way: "next" | "hour" | "day"): Promise<{ now: number; says: string }> {
  const s = await studio()
  if (s.config.mode === "own") throw new Error("the clock of a real school can't be moved")
  const now = await s.clock.now()
  const target = { next: "next-due" as const, hour: now + 3_600_000, day: now + 86_400_000 }[way]
  const moved = await moveClock(s, target)
  const says = moved.whole
    ? `The clock has moved on; ${moved.stops} times something was due.`
    : "There was much to do: the clock is at the last thing done. Move it on again."
  return { now: moved.now, says }
}
