"use client"

import { useState } from "react"
import { Button } from "@/ui/button"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { endPlanAction } from "./actions"

/** Two clicks, and it has ended; the second says what will be. */
export function EndPlan({ plan, until }: { plan: number; until: string | null }) {
  const [asked, setAsked] = useState(false)
  const { busy, refused: said, run } = useAction()
  if (!asked)
    return (
      <Button className="min-h-11" onClick={() => setAsked(true)}>
        End it…
      </Button>
    )
  return (
    <div className="w-full rounded-lg border border-line p-3">
      <p>Nothing more is charged.{until ? ` What you have of it stays open until ${until}.` : ""}</p>
      <Refusal className="mt-2">{said}</Refusal>
      <div className="mt-3 flex gap-3">
        <Button look="danger" className="min-h-11" disabled={busy} onClick={() => run(() => endPlanAction(plan))}>
          End it now
        </Button>
        <Button className="min-h-11" onClick={() => setAsked(false)}>
          Keep it
        </Button>
      </div>
    </div>
  )
}
