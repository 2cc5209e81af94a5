"use client"
import { useState } from "react"
import { Button } from "@/ui/button"
import { useAction } from "@/ui/use-action"
import { endAdmissionAction } from "../../courses/actions"

/** Takes an admission back, after asking once. */
export function EndAdmission({ id, title }: { id: number; title: string }) {
  const { busy, run } = useAction()
  const [sure, setSure] = useState(false)
  return (
    <Button
      look={sure ? "danger" : "quiet"}
      className="float-right min-h-7 text-label"
      disabled={busy}
      aria-label={`${sure ? "Yes, end it" : "End it"}: ${title}`}
      onClick={() => {
        if (!sure) return setSure(true)
        run(() => endAdmissionAction(id))
      }}
    >
      {sure ? "Yes, end it" : "End it"}
    </Button>
  )
}
