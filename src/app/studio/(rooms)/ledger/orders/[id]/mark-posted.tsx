"use client"

import { useTransition } from "react"
import { Button } from "@/ui/button"
import { markPostedAction } from "../../actions"

export function MarkPosted({ line }: { line: number }) {
  const [busy, start] = useTransition()
  return (
    <Button disabled={busy} onClick={() => start(() => markPostedAction(line))}>
      It is on its way
    </Button>
  )
}
