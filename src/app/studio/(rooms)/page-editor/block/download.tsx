"use client"

import { SelectField, TextField } from "@/ui/field"
import { Upload } from "../../upload"
import type { SettingsOf } from "./settings"

export const Download: SettingsOf<"download"> = ({ block, files, onFile, onChange }) => {
  return (
    <div className="space-y-3">
      <SelectField
        label="File"
        value={block.media ?? ""}
        onChange={(e) => onChange({ media: Number(e.target.value) || null }, "media")}
      >
        <option value="">None yet</option>
        {files.map((f) => (
          <option key={f.id} value={f.id}>
            {f.name}
          </option>
        ))}
      </SelectField>
      <Upload
        kind="file"
        onDone={(done) => {
          onFile(done)
          onChange({ media: done.id }, "media")
        }}
      />
      <TextField
        label="What it is"
        value={block.says}
        maxLength={300}
        hint="Empty: the name of the file."
        onChange={(e) => onChange({ says: e.target.value }, "says")}
      />
    </div>
  )
}
