"use client"

import type { ReactNode } from "react"
import { option, SelectField, TextArea } from "@/ui/field"

/** A question being written, of a quiz or a survey: what it asks, how it is answered, and what that wants to know. */
export function QuestionCard<K extends string>({
  n,
  asks,
  kind,
  kinds,
  onAsks,
  onKind,
  onRemove,
  children,
}: {
  n: number
  asks: string
  kind: K
  /** The ways to answer, in words. */
  kinds: Readonly<Record<K, string>>
  onAsks: (asks: string) => void
  onKind: (kind: K) => void
  onRemove: () => void
  children: ReactNode
}) {
  return (
    <section aria-label={`Question ${n}`} className="space-y-2 rounded-md border border-line p-2.5">
      <div className="flex items-baseline justify-between">
        <h3 className="font-sans text-body font-bold">Question {n}</h3>
        <button
          type="button"
          className="min-h-6 text-label text-dusk hover:underline"
          aria-label={`Remove question ${n}`}
          onClick={onRemove}
        >
          Remove
        </button>
      </div>
      <TextArea label="It asks" rows={2} maxLength={600} value={asks} onChange={(e) => onAsks(e.target.value)} />
      <SelectField label="Answered by" value={kind} onChange={(e) => onKind(e.target.value as K)}>
        {(Object.keys(kinds) as K[]).map((k) => option(k, kinds[k]))}
      </SelectField>
      {children}
    </section>
  )
}

/** A number for a new question that none of these has. */
export function freeQuestion(all: readonly { readonly id: string }[]): string {
  let n = all.length + 1
  while (all.some((q) => q.id === `q${n}`)) n++
  return `q${n}`
}
