"use client"

import { useState } from "react"
import { saveWords, useSaved } from "@/ui/use-saved"
import { saveNoteAction } from "../../actions"

/** A note of one's own beside a lesson, saved as it is typed. */
export function Note({ slug, lesson, body }: { slug: string; lesson: number; body: string }) {
  const [value, setValue] = useState(body)
  const saved = useSaved(value, async (typed) => {
    const done = await saveNoteAction(slug, lesson, typed)
    return done.refused ? { refused: done.refused } : null
  })
  return (
    <details open={body !== ""} className="mt-8 border-t border-line pt-4">
      <summary className="min-h-8 text-slate">My notes</summary>
      <textarea
        aria-label="My notes on this lesson"
        rows={4}
        maxLength={10_000}
        value={value}
        onChange={(e) => setValue(e.target.value)}
        className="mt-2 w-full rounded-md border border-line bg-card px-3 py-2"
      />
      <p role="status" className="text-note text-soft">
        {value === body && saved === "saved" ? "Only you read this." : saveWords(saved)}
      </p>
    </details>
  )
}
