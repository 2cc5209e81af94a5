"use client"

import { SelectField, TextField } from "@/ui/field"
import { Upload } from "../../upload"
import type { SettingsOf } from "./settings"

export const Video: SettingsOf<"video"> = ({ block, videos, onVideo, onChange }) => {
  return (
    <div className="space-y-3">
      <SelectField
        label="Video"
        value={block.media ?? ""}
        onChange={(e) => onChange({ media: Number(e.target.value) || null }, "media")}
        hint="It plays by itself, without sound, until somebody turns it on."
      >
        <option value="">None yet</option>
        {videos.map((x) => (
          <option key={x.id} value={x.id}>
            {x.name}
          </option>
        ))}
      </SelectField>
      <Upload
        kind="video"
        onDone={(done) => {
          onVideo({ id: done.id, name: done.name, url: done.url, type: "video/mp4" })
          onChange({ media: done.id }, "media")
        }}
      />
      <TextField
        label="What it shows, for those who can't see it"
        value={block.says}
        maxLength={300}
        onChange={(e) => onChange({ says: e.target.value }, "says")}
      />
    </div>
  )
}
