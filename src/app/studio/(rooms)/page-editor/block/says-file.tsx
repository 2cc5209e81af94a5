"use client"

import { TextField } from "@/ui/field"
import { ChooseMedia } from "./choose-media"
import type { SettingsProps } from "./settings"

/** A file with a word to it: something to listen to, or to take away. */
export function SaysFile({
  block,
  files,
  onFile,
  onChange,
  hint,
}: Pick<SettingsProps<"audio">, "files" | "onFile"> & {
  readonly block: { readonly media: number | null; readonly says: string }
  readonly onChange: (change: { media?: number | null; says?: string }, run: string) => void
  readonly hint: string
}) {
  return (
    <div className="space-y-3">
      <ChooseMedia
        label="File"
        kind="file"
        value={block.media}
        among={files}
        onUploaded={onFile}
        onChange={(media) => onChange({ media }, "media")}
      />
      <TextField
        label="What it is"
        value={block.says}
        maxLength={300}
        hint={hint}
        onChange={(e) => onChange({ says: e.target.value }, "says")}
      />
    </div>
  )
}
