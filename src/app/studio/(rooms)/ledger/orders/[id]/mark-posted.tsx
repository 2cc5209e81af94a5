"use client"

import { Button } from "@/ui/button"
import { useAction } from "@/ui/use-action"
import { markPostedAction } from "../../actions"

export function MarkPosted({ line }: { line: number }) {
  const { busy, run } = useAction()
  return (
    <Button disabled={busy} onClick={() => run(() => markPostedAction(line))}>
      It is on its way
    </Button>
  )
}
