"use client"

import { SelectField, TextField } from "@/ui/field"
import { RichText } from "@/ui/rich-text"
import { ChoosePicture } from "./choose-picture"
import type { SettingsOf } from "./settings"

export const Aside: SettingsOf<"aside"> = ({ block, pictures, onPicture, onChange }) => (
  <div className="space-y-3">
    <ChoosePicture
      value={block.media}
      pictures={pictures}
      onPicture={onPicture}
      onChange={(media) => onChange({ media }, "media")}
    />
    <TextField
      label="What it shows, for those who can't see it"
      value={block.alt}
      maxLength={300}
      onChange={(e) => onChange({ alt: e.target.value }, "alt")}
    />
    <SelectField
      label="The picture stands"
      value={block.side}
      onChange={(e) => onChange({ side: e.target.value as "start" }, "side")}
    >
      <option value="start">before the text</option>
      <option value="end">after the text</option>
    </SelectField>
    <RichText label="Text" value={block.html} onChange={(html) => onChange({ html }, "html")} />
  </div>
)
