"use client"

import { useState } from "react"
import type { Block } from "@/core/page/document"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { TextField } from "@/ui/field"
import { useAction } from "@/ui/use-action"
import { keepSectionAction } from "../funnels/sections/actions"

/** Keeps parts of a page as a section that can stand elsewhere, too, by the name that is typed. */
export function KeepSection({
  blocks,
  open,
  onOpenChange,
  onKept,
}: {
  blocks: readonly Block[]
  open: boolean
  onOpenChange: (open: boolean) => void
  onKept: (section: number) => void
}) {
  const [name, setName] = useState("")
  const { busy, run, answer } = useAction()
  return (
    <Dialog open={open} onOpenChange={onOpenChange} title="Keep for other pages" returns={false}>
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault()
          run(
            () => keepSectionAction(name, blocks),
            ({ id }) => {
              setName("")
              onOpenChange(false)
              if (id) onKept(id)
            },
          )
        }}
      >
        <p className="text-soft">
          It is written once from now on: here stands what is kept, and so it does wherever you add it.
        </p>
        <TextField
          label="Name"
          value={name}
          maxLength={80}
          placeholder="Guarantee"
          error={answer.refused}
          onChange={(e) => setName(e.target.value)}
        />
        <Button type="submit" look="primary" disabled={busy}>
          Keep it
        </Button>
      </form>
    </Dialog>
  )
}
