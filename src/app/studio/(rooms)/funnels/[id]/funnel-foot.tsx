"use client"

import { useRouter } from "next/navigation"
import { useState } from "react"
import type { Funnel } from "@/core/funnel/draft"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { changeFunnelAction } from "../actions"

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
  const [days, setDays] = useState(String(funnel.againAfter ?? ""))
  const [refused, setRefused] = useState<{ field?: string; refused?: string }>({})
  const router = useRouter()
  const save = async () => {
    const againAfter = days.trim() === "" ? null : Number(days)
    const changed = {
      ...(name === funnel.name ? {} : { name }),
      ...(againAfter === funnel.againAfter ? {} : { againAfter }),
    }
    if (!Object.keys(changed).length) return
    setRefused(await changeFunnelAction({ funnel: funnel.id, ...changed }))
    router.refresh()
  }
  const errorOf = (field: string) => ((refused.field ?? "name") === field ? refused.refused : undefined)
  return (
    <div className="mt-4 flex items-start justify-between gap-4">
      <details>
        <summary className="text-body text-slate">Funnel settings</summary>
        <div className="mt-2 flex w-96 max-w-full flex-col items-start gap-3">
          <div className="w-full">
            <TextField
              label="Name"
              value={name}
              maxLength={120}
              onChange={(e) => setName(e.target.value)}
              onBlur={save}
              error={errorOf("name")}
            />
          </div>
          <TextField
            label="People who come back count as new after (days)"
            value={days}
            inputMode="numeric"
            maxLength={5}
            onChange={(e) => setDays(e.target.value)}
            onBlur={save}
            hint="Empty: never; everybody is counted once, by the day they first came. Holds from the next publishing on."
            error={errorOf("againAfter")}
          />
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
