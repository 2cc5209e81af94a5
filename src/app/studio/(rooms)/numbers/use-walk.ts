"use client"

import { useEffect, useState } from "react"
import type { UnsureStep } from "@/core/numbers/simulate"
import type { Walk, Walked } from "./walk-worker"

/** How many people are made up in all, about, and how often at most the days are walked. */
const people = 200_000
const mostRuns = 1_000

/** A funnel walked by made-up people in a worker, anew whenever it changes; null until that is done. */
export function useWalk(steps: readonly UnsureStep[] | null, cost: number, spread = 1): Walked | null {
  const [walked, setWalked] = useState<Walked | null>(null)
  const asked = JSON.stringify(steps)
  useEffect(() => {
    const all = JSON.parse(asked) as UnsureStep[] | null
    setWalked(null)
    if (!all) return
    const worker = new Worker(new URL("./walk-worker.ts", import.meta.url))
    const come = all.reduce((sum, s) => sum + s.comes, 0)
    worker.onmessage = ({ data }: MessageEvent<Walked>) => setWalked(data)
    const runs = Math.max(50, Math.min(mostRuns, Math.floor(people / Math.max(1, come))))
    worker.postMessage({ steps: all, cost, runs, seed: 1, spread } satisfies Walk)
    return () => worker.terminate()
  }, [asked, cost, spread])
  return walked
}
