"use client"

import { type ReactNode, useState } from "react"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { publishSectionAction, renameSectionAction } from "../actions"

/** Puts a kept section out as it is written, on everything where it stands; its name besides. `children`: where that is. */
export function PublishSection({
  id,
  name,
  places,
  children,
}: {
  id: number
  name: string
  places: number
  children: ReactNode
}) {
  const [open, setOpen] = useState(false)
  const { busy, run, refused } = useAction()
  const naming = useAction()
  const to = places === 1 ? "1 page" : `${places} pages`
  return (
    <>
      <Button look="primary" onClick={() => setOpen(true)}>
        Publish to {to}
      </Button>
      <Dialog open={open} onOpenChange={setOpen} title={places ? `Publish to ${to}` : "Publish"}>
        <TextField
          key={name}
          label="Name"
          defaultValue={name}
          maxLength={80}
          error={naming.answer.refused}
          onBlur={(e) => {
            const typed = e.target.value
            if (typed.trim() !== name) naming.run(() => renameSectionAction(id, typed))
          }}
        />
        {children}
        <p className="mt-3 text-soft">
          {places
            ? "Live pages are put out again with this section as it is written here, and nothing else of their drafts."
            : "It stands nowhere yet. Add it on a page."}
        </p>
        <Refusal>{refused}</Refusal>
        <Button
          look="primary"
          className="mt-3"
          disabled={busy}
          onClick={() =>
            run(
              () => publishSectionAction(id),
              () => setOpen(false),
            )
          }
        >
          Publish
        </Button>
      </Dialog>
    </>
  )
}
