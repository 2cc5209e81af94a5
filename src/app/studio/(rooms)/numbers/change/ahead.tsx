"use client"

import type { UnsureStep } from "@/core/numbers/simulate"
import { moneyRound } from "@/core/offer/money"
import { locale } from "@/core/words/locale"
import { useWalk } from "../use-walk"

/** What as many visitors would bring again, with its width. */
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
  const walked = useWalk(steps, 0)
  return (
    <section aria-label="The same days again" className="mt-4 max-w-3xl">
      <p>
        If as many came in the next {days} days and nothing changed, by the end of them they would have brought about{" "}
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
