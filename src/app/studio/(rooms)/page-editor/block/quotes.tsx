"use client"

import { TextField } from "@/ui/field"
import { ChooseCourse } from "./choose-about"
import type { SettingsOf } from "./settings"

export const Quotes: SettingsOf<"quotes"> = ({ block, courses, onChange }) => (
  <div className="space-y-3">
    <TextField
      label="Heading"
      value={block.title}
      maxLength={300}
      onChange={(e) => onChange({ title: e.target.value }, "title")}
    />
    <ChooseCourse
      label="What learners say of"
      value={block.course}
      courses={courses}
      onChange={(course) => onChange({ course }, "course")}
      hint="Those that were chosen in the course, under Words. While there are none, visitors see nothing."
    />
    <TextField
      label="At most"
      type="number"
      min={1}
      max={12}
      value={block.most}
      onChange={(e) => onChange({ most: Math.min(12, Math.max(1, Math.round(e.target.valueAsNumber) || 1)) }, "most")}
    />
  </div>
)
