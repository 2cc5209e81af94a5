"use client"

import { useState, useTransition } from "react"
import { Button } from "@/ui/button"
import { testCardsAction } from "../actions"

/** Asks the processor about a payment that never was: what it answers shows whether it knows us. */
export function TestCards() {
  const [said, setSaid] = useState<{ good: boolean; words: string } | null>(null)
  const [busy, start] = useTransition()
  return (
    <div>
      <Button
        look="primary"
        disabled={busy}
        onClick={() =>
          start(async () => {
            const done = await testCardsAction()
            setSaid(
              "refused" in done
                ? { good: false, words: done.refused }
                : { good: true, words: "The processor answered, and knows the key." },
            )
          })
        }
      >
        {busy ? "Asking…" : "Test the connection"}
      </Button>
      {said ? (
        <p role="status" className={`mt-2 font-semibold ${said.good ? "text-reed" : "text-dusk"}`}>
          {said.words}
        </p>
      ) : null}
    </div>
  )
}
