"use client"

import { option, SelectField } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const Lessons: SettingsOf<"lessons"> = ({ block, courses, onChange }) => {
  return (
    <SelectField
      label="Lessons of"
      value={block.course ?? ""}
      onChange={(e) => onChange({ course: Number(e.target.value) || null }, "course")}
      hint="Titles and lengths come from the course."
    >
      <option value="">No course yet</option>
      {courses.map((c) => option(c.id, c.title))}
    </SelectField>
  )
}
