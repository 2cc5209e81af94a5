"use client"

import { option, SelectField } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const Price: SettingsOf<"price"> = ({ block, offers, onChange }) => {
  return (
    <SelectField
      label="Price of"
      value={block.offer ?? ""}
      onChange={(e) => onChange({ offer: Number(e.target.value) || null }, "offer")}
      hint="The sentence comes from the offer's terms; nothing else says a price."
      error={block.offer === null ? "No offer yet." : undefined}
    >
      <option value="">No offer yet</option>
      {offers.map((o) => option(o.id, o.name))}
    </SelectField>
  )
}
