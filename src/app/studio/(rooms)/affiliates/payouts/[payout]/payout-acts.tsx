"use client"

import { useRouter } from "next/navigation"
import { useEffect } from "react"
import { Confirm } from "@/ui/confirm"
import { markPaidAction, undoPayoutAction } from "../../actions"

/** A payout that is made is marked as paid, or undone. */
export function PayoutActs({ payout, says }: { payout: number; says: string }) {
  return (
    <>
      <Confirm opens="Undo…" title="Undo this payout" does="Undo it" act={() => undoPayoutAction(payout)}>
        Its lines are due again, as if it had never been made. Don’t hand its file to your bank after that.
      </Confirm>
      <Confirm
        look="primary"
        opens="Mark as paid"
        title={`Is ${says} paid?`}
        does="Yes, mark it as paid"
        act={() => markPaidAction(payout)}
      >
        Press this once your bank has taken the file. Each affiliate gets a statement by e-mail, with a credit note of
        its own number, and the books say that it is paid. It can’t be undone after that.
      </Confirm>
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
