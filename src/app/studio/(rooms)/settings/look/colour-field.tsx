"use client"

import { Button } from "@/ui/button"
import { Field } from "@/ui/field"

type Colour = `#${string}`

/** A colour of one's own, or the look's. */
export function ColourField({
  label,
  value,
  own,
  onChange,
}: {
  label: string
  value: Colour | null
  /** What stands there without one. */
  own: Colour
  onChange: (colour: Colour | null) => void
}) {
  return (
    <Field label={label}>
      {({ className, ...id }) => (
        <div className="flex items-center gap-3">
          <input
            {...id}
            type="color"
            value={(value ?? own).toLowerCase()}
            onChange={(e) => onChange(e.target.value.toUpperCase() as Colour)}
            className="h-9 w-16 cursor-pointer rounded-md border border-line bg-card p-1"
          />
          <span className="text-note tabular-nums">
            {value ?? <span className="text-soft">as the look has it</span>}
          </span>
          {value ? (
            <Button look="quiet" className="ml-auto min-h-8" onClick={() => onChange(null)}>
              Not my own
            </Button>
          ) : null}
        </div>
      )}
    </Field>
  )
}
