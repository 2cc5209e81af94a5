"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { type Done, joinAction } from "../actions"

/** The conditions, and the press by which somebody agrees and joins. */
export function Join({
  offer,
  name,
  version,
  conditions,
  agreed,
  approved,
  join = joinAction,
}: {
  offer: number
  name: string
  version: number
  conditions: string
  agreed: boolean | undefined
  /** Whether they can begin at once. */
  approved: boolean
  /** Not given: by whoever is in the portal, who is led into it. */
  join?: (offer: number, version: number) => Promise<Done>
}) {
  const [ticked, setTicked] = useState(false)
  const [done, setDone] = useState<Done>({})
  const [busy, start] = useTransition()
  const router = useRouter()
  return (
    <div className="mt-3">
      {conditions ? (
        <details open={!agreed}>
          <summary className="cursor-pointer font-semibold">Conditions, version {version}</summary>
          <p className="mt-2 rounded-md bg-card p-3 whitespace-pre-line">{conditions}</p>
        </details>
      ) : null}
      {agreed ? (
        <p className="mt-2 text-soft">You take part.</p>
      ) : (
        <form
          className="mt-3 space-y-3"
          onSubmit={(e) => {
            e.preventDefault()
            start(async () => {
              const said = await join(offer, version)
              setDone(said)
              if (said.done && join === joinAction) router.push("/affiliate")
              router.refresh()
            })
          }}
        >
          {conditions ? (
            <Check checked={ticked} onChange={setTicked}>
              I have read the conditions and agree to them
            </Check>
          ) : null}
          <Button
            type="submit"
            look="primary"
            className="min-h-11 w-full sm:w-auto"
            aria-label={`${approved ? "Join" : "Ask to join"}: ${name}`}
            disabled={busy || (conditions !== "" && !ticked)}
          >
            {approved ? "Join" : "Ask to join"}
          </Button>
          {done.refused ? (
            <p role="alert" className="font-semibold">
              {done.refused}
            </p>
          ) : null}
        </form>
      )}
    </div>
  )
}
