"use client"

import { SelectField } from "@/ui/field"
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
      {courses.map((c) => (
        <option key={c.id} value={c.id}>
          {c.title}
        </option>
      ))}
    </SelectField>
  )
}
