"use client"

import { option, SelectField } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const TeacherBlock: SettingsOf<"teacher"> = ({ block, teachers, onChange }) => (
  <SelectField
    label="Who teaches"
    value={block.teacher ?? ""}
    onChange={(e) => onChange({ teacher: Number(e.target.value) || null }, "teacher")}
    hint="Written once, in Settings under Teachers."
  >
    <option value="">Nobody yet</option>
    {teachers.map((t) => option(t.id, t.name))}
  </SelectField>
)
