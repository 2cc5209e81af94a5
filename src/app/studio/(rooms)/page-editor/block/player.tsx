"use client"

import { Check } from "@/ui/check"
import { SelectField, TextField } from "@/ui/field"
import { Upload } from "../../upload"
import type { SettingsOf } from "./settings"

export const Player: SettingsOf<"player"> = ({ block, videos, files, onVideo, onFile, onChange }) => {
  return (
    <div className="space-y-3">
      <SelectField
        label="Video"
        value={block.media ?? ""}
        onChange={(e) => onChange({ media: Number(e.target.value) || null }, "media")}
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
        label="What it is about"
        value={block.says}
        maxLength={300}
        onChange={(e) => onChange({ says: e.target.value }, "says")}
      />
      <SelectField
        label="Captions"
        value={block.captions ?? ""}
        hint="A WebVTT file."
        onChange={(e) => onChange({ captions: Number(e.target.value) || null }, "captions")}
      >
        <option value="">None</option>
        {files
          .filter((f) => /\.vtt$/i.test(f.name))
          .map((f) => (
            <option key={f.id} value={f.id}>
              {f.name}
            </option>
          ))}
      </SelectField>
      <Upload
        kind="file"
        onDone={(done) => {
          onFile(done)
          if (/\.vtt$/i.test(done.name)) onChange({ captions: done.id }, "captions")
        }}
      />
      <Check checked={block.download} onChange={(download) => onChange({ download }, "download")}>
        It may be taken away
      </Check>
    </div>
  )
}
