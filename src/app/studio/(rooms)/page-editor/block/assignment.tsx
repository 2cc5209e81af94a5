"use client"

import { Check } from "@/ui/check"
import { TextArea } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const Assignment: SettingsOf<"assignment"> = ({ block, onChange }) => {
  return (
    <div className="space-y-3">
      <TextArea
        label="What is to be done"
        hint="What is handed in waits under Hand-ins for your answer."
        rows={8}
        maxLength={4000}
        value={block.asks}
        onChange={(e) => onChange({ asks: e.target.value }, "asks")}
      />
      <Check checked={block.file} onChange={(file) => onChange({ file }, "file")}>
        A file may be handed in, too
      </Check>
    </div>
  )
}
