"use client"

import { type Figure, figureNames, leastPeople } from "@/core/page/figures"
import { Check } from "@/ui/check"
import { ChooseCourse } from "./choose-about"
import type { SettingsOf } from "./settings"

const names: Readonly<Record<Figure, string>> = {
  learners: "Learners so far",
  lately: "Who joined in the last 30 days",
  names: "First names of who joined lately, where they agreed",
  lessons: "Lessons",
  hours: "Hours",
  rating: "What learners think of it, where a survey’s scale asks",
}

export const Figures: SettingsOf<"figures"> = ({ block, courses, onChange }) => (
  <div className="space-y-3">
    <ChooseCourse
      label="Numbers of"
      value={block.course}
      courses={courses}
      onChange={(course) => onChange({ course }, "course")}
      hint={`They are counted, every minute. People are shown from ${leastPeople} on.`}
    />
    {figureNames.map((f) => (
      <Check
        key={f}
        checked={block.show.includes(f)}
        onChange={(on) =>
          onChange({ show: figureNames.filter((n) => (n === f ? on : block.show.includes(n))) }, "show")
        }
      >
        {names[f]}
      </Check>
    ))}
  </div>
)
