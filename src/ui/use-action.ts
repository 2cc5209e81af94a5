"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"

/** What came of an act: why it was refused, and at which field. */
export type ActionAnswer = { readonly refused?: string; readonly field?: string }

/**
 * Does things on the server, one at a time. What is refused is kept in words until the next act; otherwise `then` runs, and the page
 * is shown as it is now.
 */
export function useAction() {
  const router = useRouter()
  const [busy, start] = useTransition()
  const [answer, setAnswer] = useState<ActionAnswer>({})
  const run = <A>(work: () => Promise<A>, then?: (done: A) => void) =>
    start(async () => {
      const done = await work()
      const told: ActionAnswer = typeof done === "object" && done && "refused" in done ? (done as ActionAnswer) : {}
      setAnswer(told)
      if (told.refused) return
      then?.(done)
      router.refresh()
    })
  return { busy, run, answer, refused: answer.refused ?? "" }
}
