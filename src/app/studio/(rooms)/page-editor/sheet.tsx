"use client"

import { type ReactNode, type RefObject, useEffect, useRef } from "react"
import { useStanding } from "./use-standing"

const width = 300

/** A small sheet that is opened on a part of the page, at its height beside it; on none: at the top. Escape closes it. */
export function Sheet({
  frame,
  of,
  title,
  focus = true,
  onClose,
  children,
}: {
  frame: RefObject<HTMLIFrameElement | null>
  of: string | null
  title: string
  /** Whether the keys go to it. */
  focus?: boolean
  onClose: () => void
  children: ReactNode
}) {
  const stands = useStanding(frame)
  const top = (of && stands.get(of)?.top) || 0
  const sheet = useRef<HTMLElement>(null)
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is opened anew on another part
  useEffect(() => {
    if (focus) sheet.current?.focus()
  }, [of])
  return (
    <div className="pointer-events-none absolute inset-y-3 z-10 flex flex-col" style={{ width, right: 20 }}>
      <div style={{ flex: `0 1000 ${Math.max(0, top - 12)}px` }} />
      <section
        ref={sheet}
        aria-label="Settings"
        tabIndex={-1}
        onKeyDown={(e) => {
          if (e.key !== "Escape" || e.defaultPrevented) return
          e.preventDefault()
          onClose()
        }}
        className="pointer-events-auto min-h-0 overflow-auto rounded-lg border border-line bg-card p-4 shadow-xl focus:outline-none"
      >
        <div className="mb-3 flex items-center justify-between gap-2">
          <h2 className="first-letter:uppercase">{title}</h2>
          <button type="button" onClick={onClose} className="min-h-7 rounded px-2 text-soft hover:text-ink">
            Close
          </button>
        </div>
        {children}
      </section>
    </div>
  )
}
