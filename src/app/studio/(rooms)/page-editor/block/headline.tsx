"use client"

import { TextArea, TextField } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const Headline: SettingsOf<"headline"> = ({ block, onChange }) => {
  return (
    <div className="space-y-3">
      <TextArea
        label="Text"
        rows={3}
        maxLength={300}
        value={block.text}
        onChange={(e) => onChange({ text: e.target.value.replace(/\n/g, " ") }, "text")}
      />
      <TextField
        label="A line above it"
        value={block.above ?? ""}
        maxLength={300}
        onChange={(e) => onChange({ above: e.target.value }, "above")}
      />
    </div>
  )
}
