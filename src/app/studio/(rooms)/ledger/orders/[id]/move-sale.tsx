"use client"
import { useState } from "react"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { option, SelectField, TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { moveSaleAction } from "../../../affiliates/actions"

/** Gives a sale to another affiliate, or to nobody, with a reason. */
export function MoveSale({
  order,
  others,
  counts,
}: {
  order: number
  others: readonly { readonly id: number; readonly name: string }[]
  counts: string | null
}) {
  const [open, setOpen] = useState(false)
  const [to, setTo] = useState(others[0] ? String(others[0].id) : "")
  const [why, setWhy] = useState("")
  const { busy, answer: done, run } = useAction()
  return (
    <>
      <Button className="min-h-8" onClick={() => setOpen(true)}>
        Give it to another
      </Button>
      <Dialog open={open} onOpenChange={setOpen} title="For whom does this sale count?">
        <form
          className="space-y-3"
          onSubmit={(e) => {
            e.preventDefault()
            run(
              () => moveSaleAction({ order, affiliate: to ? Number(to) : null, why }),
              () => setOpen(false),
            )
          }}
        >
          <p>
            {counts ? `It counts for ${counts} now. Their commission is taken back.` : "It counts for nobody now."} The
            reason stays beside the sale.
          </p>
          <SelectField
            label="From now on it counts for"
            value={to}
            onChange={(e) => setTo(e.target.value)}
            error={done.field === "affiliate" ? done.refused : undefined}
          >
            {others.map((o) => option(o.id, o.name))}
            {counts ? <option value="">nobody</option> : null}
          </SelectField>
          <TextField
            label="Why"
            value={why}
            maxLength={200}
            onChange={(e) => setWhy(e.target.value)}
            error={done.field === "why" ? done.refused : undefined}
          />
          <Button type="submit" look="primary" disabled={busy || !why.trim()}>
            Give it
          </Button>
          <Refusal>{!done.field && done.refused}</Refusal>
        </form>
      </Dialog>
    </>
  )
}
