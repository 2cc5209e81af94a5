"use client"

import { useRouter } from "next/navigation"
import { useEffect, useState } from "react"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { markPaidAction, undoPayoutAction } from "../../actions"

/** A payout that is made is marked as paid, or undone. */
export function PayoutActs({ payout, says }: { payout: number; says: string }) {
  const [open, setOpen] = useState<"paid" | "undo" | null>(null)
  const { busy, refused, run } = useAction()
  const send = (act: (payout: number) => Promise<{ refused?: string }>) =>
    run(
      () => act(payout),
      () => setOpen(null),
    )
  return (
    <>
      <Button onClick={() => setOpen("undo")}>Undo</Button>
      <Button look="primary" onClick={() => setOpen("paid")}>
        Mark as paid
      </Button>
      <Dialog open={open === "paid"} onOpenChange={() => setOpen(null)} title={`Is ${says} paid?`}>
        <p>
          Press this once your bank has taken the file. Each affiliate gets a statement by e-mail, with a credit note of
          its own number, and the books say that it is paid. It can’t be undone after that.
        </p>
        <Button className="mt-4" look="primary" disabled={busy} onClick={() => send(markPaidAction)}>
          Yes, mark it as paid
        </Button>
        <Refusal className="mt-2">{refused}</Refusal>
      </Dialog>
      <Dialog open={open === "undo"} onOpenChange={() => setOpen(null)} title="Undo this payout">
        <p>Its lines are due again, as if it had never been made. Don’t hand its file to your bank after that.</p>
        <Button className="mt-4" look="danger" disabled={busy} onClick={() => send(undoPayoutAction)}>
          Undo it
        </Button>
        <Refusal className="mt-2">{refused}</Refusal>
      </Dialog>
    </>
  )
}

/** Looks again every two seconds, while something is under way. */
export function Refreshing() {
  const router = useRouter()
  useEffect(() => {
    const timer = setInterval(() => router.refresh(), 2_000)
    return () => clearInterval(timer)
  }, [router])
  return null
}
