"use client"

import { Button } from "@/ui/button"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { removeSectionAction } from "./actions"

export function RemoveSection({ id, name }: { id: number; name: string }) {
  const { busy, run, refused } = useAction()
  return (
    <>
      <Button
        look="danger"
        disabled={busy}
        aria-label={`Remove the kept section ${name}`}
        onClick={() => run(() => removeSectionAction(id))}
      >
        Remove
      </Button>
      <Refusal>{refused}</Refusal>
    </>
  )
}
