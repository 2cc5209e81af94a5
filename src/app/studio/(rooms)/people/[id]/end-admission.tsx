"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import { Button } from "@/ui/button"
import { endAdmissionAction } from "../../courses/actions"

/** Takes an admission back, after asking once. */
export function EndAdmission({ id, title }: { id: number; title: string }) {
  const router = useRouter()
  const [busy, start] = useTransition()
  const [sure, setSure] = useState(false)
  return (
    <Button
      look={sure ? "danger" : "quiet"}
      className="float-right min-h-7 text-label"
      disabled={busy}
      aria-label={`${sure ? "Yes, end it" : "End it"}: ${title}`}
      onClick={() => {
        if (!sure) return setSure(true)
        start(async () => {
          await endAdmissionAction(id)
          router.refresh()
        })
      }}
    >
      {sure ? "Yes, end it" : "End it"}
    </Button>
  )
}
