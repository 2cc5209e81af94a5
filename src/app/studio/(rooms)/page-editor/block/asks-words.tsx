"use client"

import { TextField } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const AsksWords: SettingsOf<"asks-words"> = ({ block, onChange }) => (
  <TextField
    label="Text"
    value={block.says}
    maxLength={300}
    onChange={(e) => onChange({ says: e.target.value }, "says")}
    hint="It leads to a form for a sentence or two. You choose in the course, under Words, what pages show."
  />
)
