"use client"

import { SelectField } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const Section: SettingsOf<"section"> = ({ block, onChange }) => {
  return (
    <SelectField
      label="Background"
      value={block.tone}
      onChange={(e) => onChange({ tone: e.target.value as "plain" }, "tone")}
      hint="Move a part of the page past it, and it goes inside."
    >
      <option value="plain">Plain</option>
      <option value="tinted">Tinted</option>
    </SelectField>
  )
}
