"use client"

import { Field } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const Assignment: SettingsOf<"assignment"> = ({ block, onChange }) => {
  return (
    <Field label="What is to be done" hint="It is handed in as text, and waits under Hand-ins for your answer.">
      {(p) => (
        <textarea
          {...p}
          rows={8}
          maxLength={4000}
          value={block.asks}
          onChange={(e) => onChange({ asks: e.target.value }, "asks")}
        />
      )}
    </Field>
  )
}
