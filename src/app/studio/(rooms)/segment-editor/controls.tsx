"use client"

// The fields that conditions are put together from.
import type { NamedThing } from "@/server/person/segment-view"
import { option, SelectField, TextField } from "@/ui/field"

export function Is({
  is,
  yes,
  no,
  onChange,
}: {
  is: boolean
  yes: string
  no: string
  onChange: (is: boolean) => void
}) {
  return (
    <div className="w-56">
      <SelectField label="They" value={is ? "1" : ""} onChange={(e) => onChange(e.target.value === "1")}>
        <option value="1">{yes}</option>
        <option value="">{no}</option>
      </SelectField>
    </div>
  )
}

export function OneOf({
  label,
  all,
  value,
  onChange,
}: {
  label: string
  all: readonly string[]
  value: string
  onChange: (value: string) => void
}) {
  return (
    <div className="min-w-40 flex-1">
      <SelectField label={label} value={value} onChange={(e) => onChange(e.target.value)}>
        {[...new Set([value, ...all])].map((x) => option(x, x))}
      </SelectField>
    </div>
  )
}

export function Which({
  label,
  all,
  value,
  none,
  wide = false,
  onChange,
}: {
  label: string
  all: readonly NamedThing[]
  value: number | null
  none?: string
  /** Its names are long. */
  wide?: boolean
  onChange: (id: number | null) => void
}) {
  return (
    <div className={`flex-1 ${wide ? "min-w-64" : "min-w-40"}`}>
      <SelectField label={label} value={value ?? ""} onChange={(e) => onChange(Number(e.target.value) || null)}>
        {none ? <option value="">{none}</option> : null}
        {value === null || all.some((x) => x.id === value) ? null : <option value={value}>No longer there</option>}
        {all.map((x) => option(x.id, x.name))}
      </SelectField>
    </div>
  )
}

export function Days({
  label,
  value,
  ever = false,
  onChange,
}: {
  label: string
  value: number | null
  ever?: boolean
  onChange: (days: number | null) => void
}) {
  return (
    <div className="w-36">
      <TextField
        label={label}
        type="number"
        min={1}
        max={3650}
        value={value ?? ""}
        placeholder={ever ? "ever" : undefined}
        onChange={(e) => {
          const n = Math.round(e.target.valueAsNumber)
          onChange(Number.isNaN(n) ? null : Math.min(3650, Math.max(1, n)))
        }}
      />
    </div>
  )
}

export function Percent({ label, value, onChange }: { label: string; value: number; onChange: (n: number) => void }) {
  return (
    <div className="w-24">
      <TextField
        label={label}
        type="number"
        min={0}
        max={100}
        value={value}
        onChange={(e) => onChange(Math.min(100, Math.max(0, Math.round(e.target.valueAsNumber) || 0)))}
      />
    </div>
  )
}
