"use client"

import { Dialog as Radix } from "radix-ui"
import type { ReactNode } from "react"

/** A dialog with a heading of its own; Escape and the button close it. */
export function Dialog({
  open,
  onOpenChange,
  title,
  children,
  wide = false,
  returns = true,
}: {
  open: boolean
  onOpenChange: (open: boolean) => void
  title: string
  children: ReactNode
  wide?: boolean
  /** Whether the focus goes back to where it was, once it is closed. */
  returns?: boolean
}) {
  return (
    <Radix.Root open={open} onOpenChange={onOpenChange}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-[#14262d]/45" />
        <Radix.Content
          aria-describedby={undefined}
          onCloseAutoFocus={(e) => {
            if (!returns) e.preventDefault()
          }}
          className={`fixed top-[9vh] left-1/2 z-50 max-h-[82vh] w-[calc(100vw-2rem)] -translate-x-1/2 overflow-auto rounded-lg border border-line bg-card p-5 text-ink shadow-xl ${wide ? "max-w-2xl" : "max-w-lg"}`}
        >
          <div className="mb-3 flex items-start justify-between gap-4">
            <Radix.Title className="text-lg">{title}</Radix.Title>
            <Radix.Close className="rounded px-2 py-0.5 text-soft hover:text-ink">Close</Radix.Close>
          </div>
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  )
}
