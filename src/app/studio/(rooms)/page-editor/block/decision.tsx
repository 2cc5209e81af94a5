"use client"

import { TextField } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const Decision: SettingsOf<"decision"> = ({ block, onChange }) => {
  return (
    <div className="space-y-3">
      <TextField
        label="Accept button"
        value={block.accept}
        maxLength={300}
        onChange={(e) => onChange({ accept: e.target.value }, "accept")}
        hint="What it costs is added by itself."
      />
      <TextField
        label="Decline link"
        value={block.decline}
        maxLength={300}
        onChange={(e) => onChange({ decline: e.target.value }, "decline")}
        hint="Plainly, and without shame."
      />
    </div>
  )
}
