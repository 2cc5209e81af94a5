"use client"

import { useState } from "react"
import { TextField } from "@/ui/field"

/** A whole number as it is typed: what isn't one stands there and changes nothing. `empty`: it may be left empty, which is null. */
export function NumberField<V extends number | null>({
  label,
  value,
  hint,
  error,
  empty = false,
  onChange,
}: {
  label: string
  value: V
  hint?: string
  error?: string
  empty?: boolean
  onChange: (value: V) => void
}) {
  const [typed, setTyped] = useState({ text: textOf(value), for: value as number | null })
  return (
    <TextField
      label={label}
      inputMode="numeric"
      // What another window wrote takes the place of what was typed here.
      value={typed.for === value ? typed.text : textOf(value)}
      hint={hint}
      error={error}
      onChange={(e) => {
        const text = e.target.value
        const number = /^\s*\d{1,6}\s*$/.test(text) ? Number(text) : text.trim() === "" && empty ? null : value
        setTyped({ text, for: number })
        if (number !== value) onChange(number as V)
      }}
    />
  )
}

const textOf = (n: number | null) => (n === null ? "" : String(n))
