"use client"

import { TextField } from "@/ui/field"
import { ChooseMedia } from "./choose-media"
import type { SettingsOf } from "./settings"

export const Video: SettingsOf<"video"> = ({ block, videos, onVideo, onChange }) => {
  return (
    <div className="space-y-3">
      <ChooseMedia
        label="Video"
        kind="video"
        hint="It plays by itself, without sound, until somebody turns it on."
        value={block.media}
        among={videos}
        onUploaded={(done) => onVideo({ id: done.id, name: done.name, url: done.url, type: "video/mp4" })}
        onChange={(media) => onChange({ media }, "media")}
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
