"use client"

import { useActionState } from "react"
import { Button } from "@/ui/button"
import { SelectField, TextField } from "@/ui/field"
import { newOfferAction } from "./actions"

export function NewOffer({ courses, open }: { courses: readonly { id: number; title: string }[]; open: boolean }) {
  const [state, act, busy] = useActionState(newOfferAction, {})
  const error = (field: string) => (state.field === field ? state.refused : undefined)
  return (
    <details open={open} className="mt-3">
      <summary className="text-slate">New offer</summary>
      <form action={act} className="mt-3 grid max-w-3xl grid-cols-[1fr_1fr_10rem_auto] items-start gap-3">
        <TextField label="Name" name="name" required maxLength={120} error={error("name")} />
        <SelectField label="Gives" name="course" defaultValue={courses[0]?.id ?? ""}>
          {courses.map((c) => (
            <option key={c.id} value={c.id}>
              {c.title}
            </option>
          ))}
          <option value="">something else</option>
        </SelectField>
        <TextField label="Price, once" name="price" inputMode="decimal" error={error("price")} hint="Empty: free." />
        <Button type="submit" look="primary" disabled={busy} className="mt-6">
          Make it
        </Button>
      </form>
    </details>
  )
}
