"use client"

import { Field } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const Headline: SettingsOf<"headline"> = ({ block, onChange }) => {
  return (
    <Field label="Text">
      {(p) => (
        <textarea
          {...p}
          rows={3}
          maxLength={300}
          value={block.text}
          onChange={(e) => onChange({ text: e.target.value.replace(/\n/g, " ") }, "text")}
        />
      )}
    </Field>
  )
}
