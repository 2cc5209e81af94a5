"use client"

import { option, SelectField, TextField } from "@/ui/field"
import { Upload } from "../../upload"
import type { SettingsOf } from "./settings"

export const Picture: SettingsOf<"picture"> = ({ block, pictures, onPicture, onChange }) => {
  return (
    <div className="space-y-3">
      <SelectField
        label="Picture"
        value={block.media ?? ""}
        onChange={(e) => onChange({ media: Number(e.target.value) || null }, "media")}
      >
        <option value="">None yet</option>
        {pictures.map((x) => option(x.id, x.name))}
      </SelectField>
      <Upload
        kind="picture"
        onDone={(done) => {
          const image = new Image()
          image.onload = () => {
            onPicture({
              id: done.id,
              name: done.name,
              url: done.url,
              width: image.naturalWidth,
              height: image.naturalHeight,
            })
            onChange({ media: done.id }, "media")
          }
          image.src = done.url
        }}
      />
      <TextField
        label="What it shows, for those who can't see it"
        value={block.alt}
        maxLength={300}
        onChange={(e) => onChange({ alt: e.target.value }, "alt")}
      />
    </div>
  )
}
