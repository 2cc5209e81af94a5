"use client"

import { useState } from "react"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { TextField } from "@/ui/field"
import { useAction } from "@/ui/use-action"
import { newFeedAddressAction } from "./actions"

/** The secret address by which another calendar shows these dates. */
export function Address({ address }: { address: string | null }) {
  const [open, setOpen] = useState(false)
  const { busy, run } = useAction()
  return (
    <>
      <Button onClick={() => setOpen(true)}>Subscribe…</Button>
      <Dialog open={open} onOpenChange={setOpen} title="Subscribe to these dates">
        <p>
          Another calendar can show them, and keeps up by itself. Whoever has the address sees them: nobody is named,
          but what you plan is.
        </p>
        {address ? (
          <div className="mt-3">
            <TextField label="Address" readOnly value={address} onFocus={(e) => e.target.select()} />
          </div>
        ) : null}
        <p className="mt-4">
          <Button
            look={address ? "danger" : "primary"}
            disabled={busy}
            onClick={() => run(() => newFeedAddressAction())}
          >
            {address ? "Make a new one; this one stops" : "Make an address"}
          </Button>
        </p>
      </Dialog>
    </>
  )
}
