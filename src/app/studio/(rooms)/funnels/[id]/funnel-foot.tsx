"use client"

import { useRouter } from "next/navigation"
import { useState } from "react"
import type { Funnel } from "@/core/funnel/draft"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { renameFunnelAction } from "../actions"

/** What is rarely done to a whole funnel. */
export function FunnelFoot({
  funnel,
  live,
  past,
  onHistory,
  onTakeOff,
}: {
  funnel: Funnel
  live: boolean
  past: number
  onHistory: () => void
  onTakeOff: () => void
}) {
  const [name, setName] = useState(funnel.name)
  const [refused, setRefused] = useState("")
  const router = useRouter()
  const save = async () => {
    if (name === funnel.name) return
    setRefused((await renameFunnelAction({ funnel: funnel.id, name })).refused ?? "")
    router.refresh()
  }
  return (
    <div className="mt-4 flex items-start justify-between gap-4">
      <details>
        <summary className="text-[0.95rem] text-slate">Rename the funnel</summary>
        <div className="mt-2 flex w-96 items-end gap-2">
          <div className="flex-1">
            <TextField
              label="Name"
              value={name}
              maxLength={120}
              onChange={(e) => setName(e.target.value)}
              onBlur={save}
              error={refused || undefined}
            />
          </div>
          <Button onClick={save}>Save</Button>
        </div>
      </details>
      <div className="flex gap-2">
        {past > 0 ? (
          <Button look="quiet" onClick={onHistory}>
            History
          </Button>
        ) : null}
        {live ? (
          <Button look="quiet" onClick={onTakeOff}>
            Take the funnel off the web
          </Button>
        ) : null}
      </div>
    </div>
  )
}
