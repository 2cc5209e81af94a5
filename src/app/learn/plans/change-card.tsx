"use client"

import { useEffect, useRef, useState, useTransition } from "react"
import { Button } from "@/ui/button"
import { changeCardAction } from "./actions"

/** Another card for a plan, read by the processor's own fields: its number never comes here. */
export function ChangeCard({ plan, cards, behind }: { plan: number; cards: string; behind: boolean }) {
  const [open, setOpen] = useState(behind)
  const [height, setHeight] = useState(240)
  const [said, setSaid] = useState("")
  const [busy, start] = useTransition()
  const frame = useRef<HTMLIFrameElement>(null)
  useEffect(() => {
    const hear = (e: MessageEvent) => {
      if (e.origin !== cards || e.source !== frame.current?.contentWindow) return
      const m = (e.data ?? {}) as { cards?: string; height?: number; token?: string }
      if (m.cards === "height") setHeight(Math.min(900, m.height ?? 240))
      if (m.cards === "token")
        start(async () => {
          const done = await changeCardAction(plan, m.token ?? "")
          setSaid(done.refused ?? "The card is changed.")
          if (!done.refused) setOpen(false)
        })
    }
    window.addEventListener("message", hear)
    return () => window.removeEventListener("message", hear)
  }, [plan, cards])
  const ask = () => frame.current?.contentWindow?.postMessage({ cards: "token" }, cards)
  return (
    <div className={open ? "w-full" : undefined}>
      {said ? (
        <p role="status" className="mb-2 font-semibold">
          {said}
        </p>
      ) : null}
      {open ? (
        <div className="rounded-lg border border-line p-3">
          <iframe ref={frame} title="Card" src={`${cards}/fields`} className="w-full" style={{ height }} />
          <div className="mt-3 flex gap-3">
            <Button look="primary" className="min-h-11" disabled={busy} onClick={ask}>
              {busy ? "Asking…" : "Use this card"}
            </Button>
            <Button className="min-h-11" onClick={() => setOpen(false)}>
              Cancel
            </Button>
          </div>
        </div>
      ) : (
        <Button className="min-h-11" onClick={() => setOpen(true)}>
          Change the card…
        </Button>
      )}
    </div>
  )
}
