"use client"

import { type ReactNode, useState } from "react"
import { Button } from "./button"
import { Dialog } from "./dialog"
import { Refusal } from "./refusal"
import { useAction } from "./use-action"

/** A button that asks before it does what can't be taken back. `opens`: what it says; `does`: what the press that counts says. */
export function Confirm<A>({
  opens,
  title,
  does,
  keeps = "Leave it",
  act,
  then,
  look = "danger",
  className,
  children,
}: {
  opens: string
  title: string
  does: string
  keeps?: string
  act: () => Promise<A>
  then?: (done: A) => void
  look?: "danger" | "primary"
  className?: string
  children: ReactNode
}) {
  const [open, setOpen] = useState(false)
  const { busy, refused, run } = useAction()
  return (
    <>
      <Button look={look} className={className} onClick={() => setOpen(true)}>
        {opens}
      </Button>
      <Dialog open={open} onOpenChange={setOpen} title={title}>
        <p>{children}</p>
        <Refusal className="mt-2">{refused}</Refusal>
        <div className="mt-4 flex justify-end gap-2">
          <Button
            look={look}
            disabled={busy}
            onClick={() =>
              run(act, (done) => {
                setOpen(false)
                then?.(done)
              })
            }
          >
            {does}
          </Button>
          <Button look={look === "danger" ? "primary" : "plain"} onClick={() => setOpen(false)}>
            {keeps}
          </Button>
        </div>
      </Dialog>
    </>
  )
}
