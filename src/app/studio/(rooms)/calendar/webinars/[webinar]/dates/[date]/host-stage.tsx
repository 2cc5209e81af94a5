"use client"

import { useRouter } from "next/navigation"
import { useEffect } from "react"
import type { DateSeen } from "@/server/webinar/dates"
import { Button } from "@/ui/button"
import { useAction } from "@/ui/use-action"
import { hostAction } from "../../../actions"

/** How often the host's view is looked at anew, ms. */
const lookEvery = 2_000

/** What a host does with the whole room: begins, shows what it leads to, ends. */
export function HostStage({ date }: { date: DateSeen }) {
  const router = useRouter()
  const { busy, refused, run } = useAction()
  useEffect(() => {
    const timer = setInterval(() => document.hidden || router.refresh(), lookEvery)
    return () => clearInterval(timer)
  }, [router])
  const act = (what: "begin" | "end" | "offer") => run(() => hostAction(date.id, what))
  if (date.over) return null
  return (
    <div className="mt-3 flex flex-wrap items-center gap-3">
      {date.live && date.phase !== "running" ? (
        <Button look="primary" disabled={busy} onClick={() => act("begin")}>
          Begin now
        </Button>
      ) : null}
      {date.phase === "running" && date.offer !== null ? (
        date.offered ? (
          <span className="text-body text-reed">“{date.offer}” is shown</span>
        ) : (
          <Button disabled={busy} onClick={() => act("offer")}>
            Show “{date.offer}” now
          </Button>
        )
      ) : null}
      {date.live && date.phase === "running" ? (
        <Button look="danger" disabled={busy} onClick={() => act("end")}>
          End it for everybody
        </Button>
      ) : null}
      {refused ? (
        <span role="alert" className="font-semibold text-dusk">
          {refused}
        </span>
      ) : null}
    </div>
  )
}
