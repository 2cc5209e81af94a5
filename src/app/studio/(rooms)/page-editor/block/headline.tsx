"use client"

import { TextArea } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const Headline: SettingsOf<"headline"> = ({ block, onChange }) => {
  return (
    <TextArea
      label="Text"
      rows={3}
      maxLength={300}
      value={block.text}
      onChange={(e) => onChange({ text: e.target.value.replace(/\n/g, " ") }, "text")}
    />
  )
}
