"use client"

import type { ReactNode } from "react"
import { Button } from "@/ui/button"

/** A list that is written thing by thing: each with its fields, moved up, taken out; one more at the end. */
export function Items<T>({
  items,
  one,
  fresh,
  most,
  onChange,
  children,
}: {
  items: readonly T[]
  /** What one is called: "Question". */
  one: string
  fresh: () => T
  most: number
  onChange: (items: T[], run: string) => void
  children: (item: T, set: (change: Partial<T>, run: string) => void, i: number) => ReactNode
}) {
  return (
    <div className="space-y-4">
      {items.map((item, i) => (
        <fieldset key={i} className="space-y-2 border-t border-line pt-2">
          <legend className="flex w-full items-center gap-2 text-label font-semibold">
            {one} {i + 1}
            <span className="ml-auto flex gap-1">
              {i > 0 ? (
                <Button
                  look="quiet"
                  className="min-h-7 py-0"
                  aria-label={`${one} ${i + 1} up`}
                  onClick={() => onChange(items.toSpliced(i, 1).toSpliced(i - 1, 0, item), "")}
                >
                  Up
                </Button>
              ) : null}
              <Button
                look="quiet"
                className="min-h-7 py-0"
                aria-label={`Remove ${one.toLowerCase()} ${i + 1}`}
                onClick={() => onChange(items.toSpliced(i, 1), "")}
              >
                Remove
              </Button>
            </span>
          </legend>
          {children(item, (change, run) => onChange(items.with(i, { ...item, ...change }), `${i}:${run}`), i)}
        </fieldset>
      ))}
      {items.length < most ? (
        <Button onClick={() => onChange([...items, fresh()], "")}>
          {items.length ? "One more" : `Add a ${one.toLowerCase()}`}
        </Button>
      ) : null}
    </div>
  )
}
