"use client"

import { useEffect, useState } from "react"
import type { UnsureStep } from "@/core/numbers/simulate"
import { moneyRound } from "@/core/offer/money"
import { locale } from "@/core/words/locale"
import type { Walk, Walked } from "./walk-worker"

/** How many people are made up in all, about, and how often at most the days are walked. */
const people = 200_000
const mostRuns = 1_000

/** What as many visitors would bring again, with its width: walked by made-up people in a worker. */
export function Ahead({
  steps,
  exact,
  currency,
  days,
}: {
  steps: readonly UnsureStep[]
  /** What is expected, minor units. */
  exact: number
  currency: string
  days: number
}) {
  const [walked, setWalked] = useState<Walked | null>(null)
  const asked = JSON.stringify(steps)
  useEffect(() => {
    const worker = new Worker(new URL("./walk-worker.ts", import.meta.url))
    const all = JSON.parse(asked) as UnsureStep[]
    const come = all.reduce((sum, s) => sum + s.comes, 0)
    worker.onmessage = ({ data }: MessageEvent<Walked>) => setWalked(data)
    const runs = Math.max(50, Math.min(mostRuns, Math.floor(people / Math.max(1, come))))
    worker.postMessage({ steps: all, runs, seed: 1 } satisfies Walk)
    return () => worker.terminate()
  }, [asked])
  return (
    <section aria-label="The same days again" className="mt-4 max-w-3xl">
      <p>
        If as many came in the next {days} days and nothing changed, they would bring about{" "}
        <strong>{moneyRound(exact, currency)}</strong>
        {walked ? (
          <>
            , and four times out of five between <strong>{moneyRound(walked.low, currency)}</strong> and{" "}
            <strong>{moneyRound(walked.high, currency)}</strong>{" "}
            <span className="text-soft">(walked by {walked.people.toLocaleString(locale)} made-up people).</span>
          </>
        ) : (
          "."
        )}
      </p>
    </section>
  )
}
