"use client"

import { TextField } from "@/ui/field"
import { ChooseCourse } from "./choose-about"
import type { SettingsOf } from "./settings"

export const Outcomes: SettingsOf<"outcomes"> = ({ block, courses, onChange }) => (
  <div className="space-y-3">
    <TextField
      label="Heading"
      value={block.title}
      maxLength={300}
      onChange={(e) => onChange({ title: e.target.value }, "title")}
    />
    <ChooseCourse
      label="Promises of"
      value={block.course}
      courses={courses}
      onChange={(course) => onChange({ course }, "course")}
      hint="They are written once, in the course's settings."
    />
  </div>
)
