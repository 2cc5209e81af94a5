"use client"

import { SelectField } from "@/ui/field"
import { ChoosePicture } from "./choose-picture"
import type { SettingsOf } from "./settings"

export const Section: SettingsOf<"section"> = ({ block, pictures, onPicture, onChange }) => (
  <div className="space-y-3">
    <SelectField
      label="Band"
      value={block.tone}
      onChange={(e) => onChange({ tone: e.target.value as "plain" }, "tone")}
      hint="Move a part of the page past it, and it goes inside."
    >
      <option value="plain">Plain</option>
      <option value="tinted">Tinted</option>
      <option value="dark">Dark</option>
    </SelectField>
    <ChoosePicture
      label="Picture behind it"
      value={block.media ?? null}
      pictures={pictures}
      onPicture={onPicture}
      onChange={(media) => onChange({ media }, "media")}
    />
  </div>
)
