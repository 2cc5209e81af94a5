"use client"

import { TextField } from "@/ui/field"
import { ChoosePicture } from "./choose-picture"
import type { SettingsOf } from "./settings"

export const Signature: SettingsOf<"signature"> = ({ block, pictures, onPicture, onChange }) => (
  <div className="space-y-3">
    <TextField
      label="Name"
      value={block.name}
      maxLength={300}
      onChange={(e) => onChange({ name: e.target.value }, "name")}
    />
    <ChoosePicture
      label="Written by hand, as a picture"
      value={block.media}
      pictures={pictures}
      onPicture={onPicture}
      onChange={(media) => onChange({ media }, "media")}
    />
  </div>
)
