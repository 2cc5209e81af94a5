"use client"

import { SelectField } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const Columns: SettingsOf<"columns"> = ({ block, onChange }) => (
  <SelectField
    label="Side by side"
    value={block.count}
    onChange={(e) => onChange({ count: Number(e.target.value) as 2 }, "count")}
    hint="Move a part of the page past it, and it goes inside."
  >
    <option value={2}>two</option>
    <option value={3}>three</option>
    <option value={4}>four</option>
  </SelectField>
)

export const Box: SettingsOf<"box"> = () => (
  <p className="text-note text-soft">Move a part of the page past it, and it goes inside.</p>
)
