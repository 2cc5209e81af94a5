"use client"

import { useState } from "react"
import { type Chapter, chapterLines, readChapters } from "@/core/course/chapters"
import { TextArea } from "@/ui/field"

/** Typed as lines; what isn't a chapter is named, and kept while it is being typed. */
export function ChaptersField({
  value,
  onChange,
}: {
  value: readonly Chapter[]
  onChange: (chapters: Chapter[]) => void
}) {
  const [typed, setTyped] = useState<string | null>(null)
  const text = typed ?? chapterLines(value)
  const { refused } = readChapters(text)
  return (
    <TextArea
      label="Chapters"
      hint="One a line, with its time: 1:30 The salt"
      error={refused.length ? `This isn’t a time and a title: “${refused[0]}”` : undefined}
      rows={3}
      value={text}
      onChange={(e) => {
        setTyped(e.target.value)
        onChange(readChapters(e.target.value).chapters)
      }}
      onBlur={() => setTyped(refused.length ? text : null)}
    />
  )
}
