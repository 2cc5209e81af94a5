"use client"

import { ChooseCourse } from "./choose-about"
import type { SettingsOf } from "./settings"

export const Lessons: SettingsOf<"lessons"> = ({ block, courses, onChange }) => (
  <ChooseCourse
    label="Lessons of"
    value={block.course}
    courses={courses}
    onChange={(course) => onChange({ course }, "course")}
    hint="Modules, titles and lengths come from the course; free lessons are links."
  />
)
