"use client"

import { type ComponentProps, type ReactNode, useState } from "react"
import type { Look } from "@/core/look/look"
import type { Page } from "@/core/page/document"
import { describe } from "./describe"
import { useWeight } from "./use-weight"

/** Below a page: how it does, in words, with figures for whoever wants them; and what is handed in. */
export function FootLine({
  page,
  html,
  look,
  children,
}: {
  page: Page
  html: string
  look: Look
  children: ReactNode
}) {
  const [figures, setFigures] = useState(false)
  const line = describe(page, html, useWeight(html), look)
  return (
    <div className="flex min-h-11 flex-wrap items-center gap-x-6 border-t border-line bg-card px-5 text-note">
      {line.map((l) => (
        <span key={l.says}>
          <strong className={l.good ? "text-reed" : "text-amber-text"}>{l.says}</strong>
          {figures ? <span className="text-soft tabular-nums"> ({l.figure})</span> : null}
        </span>
      ))}
      <button
        type="button"
        aria-pressed={figures}
        className="min-h-8 text-slate hover:underline"
        onClick={() => setFigures(!figures)}
      >
        Figures
      </button>
      <span className="ml-auto flex items-center gap-3 text-soft">{children}</span>
    </div>
  )
}

export const FootButton = (p: ComponentProps<"button">) => (
  <button type="button" className="min-h-7 hover:text-ink disabled:opacity-50" {...p} />
)
