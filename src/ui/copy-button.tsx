"use client"

import { useState } from "react"
import { Button } from "./button"

/** Puts a text into the clipboard, and says so for a moment. */
export function CopyButton({ text, label, says = "Copy" }: { text: string; label?: string; says?: string }) {
  const [copied, setCopied] = useState(false)
  return (
    <Button
      aria-label={label}
      onClick={async () => {
        await navigator.clipboard.writeText(text)
        setCopied(true)
        setTimeout(() => setCopied(false), 2_000)
      }}
    >
      <span role="status">{copied ? "Copied" : says}</span>
    </Button>
  )
}
