"use client"

import { option, SelectField } from "@/ui/field"
import { NameLink } from "@/ui/link"
import type { SettingsOf } from "./settings"

export const Kept: SettingsOf<"kept"> = ({ block, sections, onChange }) => (
  <div className="space-y-3">
    <SelectField
      label="Which one"
      value={block.section ?? ""}
      onChange={(e) => onChange({ section: Number(e.target.value) || null }, "section")}
      hint="It is written once: a change shows wherever it stands."
    >
      <option value="">None yet</option>
      {sections.map((s) => option(s.id, s.name))}
    </SelectField>
    {block.section ? <NameLink href={`/studio/funnels/sections/${block.section}`}>Write in it</NameLink> : null}
  </div>
)
