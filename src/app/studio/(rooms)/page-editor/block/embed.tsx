"use client"

import { embeddedHost } from "@/core/page/block/embed"
import { TextField } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const Embed: SettingsOf<"embed"> = ({ block, onChange }) => (
  <div className="space-y-3">
    <TextField
      label="Address"
      type="url"
      value={block.url}
      maxLength={1000}
      hint="The address for embedding that the other site gives you. It is asked for when somebody presses, not before."
      error={block.url && !embeddedHost(block.url) ? "An address that begins with https://, please." : undefined}
      onChange={(e) => onChange({ url: e.target.value.trim() }, "url")}
    />
    <TextField
      label="What it is"
      value={block.says}
      maxLength={300}
      onChange={(e) => onChange({ says: e.target.value }, "says")}
    />
  </div>
)
