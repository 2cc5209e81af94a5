"use client"

import type { ReactNode } from "react"
import { option, SelectField } from "@/ui/field"

/** The course that a block is about. */
export function ChooseCourse({
  label,
  hint,
  value,
  courses,
  onChange,
}: {
  label: string
  hint?: ReactNode
  value: number | null
  courses: readonly { readonly id: number; readonly title: string }[]
  onChange: (course: number | null) => void
}) {
  return (
    <SelectField
      label={label}
      value={value ?? ""}
      onChange={(e) => onChange(Number(e.target.value) || null)}
      hint={hint}
    >
      <option value="">No course yet</option>
      {courses.map((c) => option(c.id, c.title))}
    </SelectField>
  )
}

/** The offer that a block is about. */
export function ChooseOffer({
  label,
  hint,
  error,
  none = "No offer yet",
  value,
  offers,
  onChange,
}: {
  label: string
  hint?: ReactNode
  error?: string
  none?: string
  value: number | null
  offers: readonly { readonly id: number; readonly name: string }[]
  onChange: (offer: number | null) => void
}) {
  return (
    <SelectField
      label={label}
      value={value ?? ""}
      onChange={(e) => onChange(Number(e.target.value) || null)}
      hint={hint}
      error={error}
    >
      <option value="">{none}</option>
      {offers.map((o) => option(o.id, o.name))}
    </SelectField>
  )
}
