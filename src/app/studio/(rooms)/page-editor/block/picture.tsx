"use client"

import { TextField } from "@/ui/field"
import { ChoosePicture } from "./choose-picture"
import type { SettingsOf } from "./settings"

export const Picture: SettingsOf<"picture"> = ({ block, pictures, onPicture, onChange }) => (
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
  </div>
)
