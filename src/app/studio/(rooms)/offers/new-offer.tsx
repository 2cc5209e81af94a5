"use client"

import { useState } from "react"
import type { CourseNamed } from "@/server/course/course-view"
import { usePageAct } from "@/ui/act-form"
import { Button } from "@/ui/button"
import { option, SelectField, TextField } from "@/ui/field"
import { OnceField } from "@/ui/once"
import { newOfferAction } from "./actions"

export function NewOffer({ courses, open }: { courses: readonly CourseNamed[]; open: boolean }) {
  const [state, act, busy] = usePageAct(newOfferAction, {})
  // Held here, since a form that was refused is emptied by React otherwise: what was typed stays.
  const [f, set] = useState({ name: "", course: String(courses[0]?.id ?? ""), price: "" })
  const typed = (key: keyof typeof f) => ({
    name: key,
    value: f[key],
    onChange: (e: React.ChangeEvent<HTMLInputElement | HTMLSelectElement>) => set({ ...f, [key]: e.target.value }),
  })
  const error = (field: string) => (state.field === field ? state.refused : undefined)
  return (
    <details open={open} className="mt-3">
      <summary className="text-slate">New offer</summary>
      <form action={act} className="mt-3 grid max-w-3xl grid-cols-[1fr_1fr_10rem_auto] items-start gap-3">
        <OnceField told={state} />
        <TextField label="Name" {...typed("name")} required maxLength={120} error={error("name")} />
        <SelectField label="Gives" {...typed("course")}>
          {courses.map((c) => option(c.id, `${c.title}${c.state === "draft" ? ", a draft" : ""}`))}
          <option value="">Something else</option>
        </SelectField>
        <TextField
          label="Price, paid once"
          {...typed("price")}
          inputMode="decimal"
          error={error("price")}
          hint="Empty: free."
        />
        <Button type="submit" look="primary" disabled={busy} className="mt-6">
          Make it
        </Button>
      </form>
    </details>
  )
}
