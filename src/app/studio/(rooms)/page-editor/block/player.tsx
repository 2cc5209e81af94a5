"use client"

import { Check } from "@/ui/check"
import { TextField } from "@/ui/field"
import { ChaptersField } from "../chapters-field"
import { ChooseMedia } from "./choose-media"
import type { SettingsOf } from "./settings"

export const Player: SettingsOf<"player"> = ({ block, videos, files, onVideo, onFile, onChange }) => {
  return (
    <div className="space-y-3">
      <ChooseMedia
        label="Video"
        kind="video"
        value={block.media}
        among={videos}
        onUploaded={(done) => onVideo({ id: done.id, name: done.name, url: done.url, type: "video/mp4" })}
        onChange={(media) => onChange({ media }, "media")}
      />
      <TextField
        label="What it is about"
        value={block.says}
        maxLength={300}
        onChange={(e) => onChange({ says: e.target.value }, "says")}
      />
      <ChooseMedia
        label="Captions"
        kind="file"
        none="None"
        hint="A WebVTT file."
        value={block.captions}
        among={files.filter((f) => /\.vtt$/i.test(f.name))}
        onUploaded={onFile}
        onChange={(captions) => onChange({ captions }, "captions")}
      />
      <ChaptersField value={block.chapters} onChange={(chapters) => onChange({ chapters }, "chapters")} />
      <Check checked={block.download} onChange={(download) => onChange({ download }, "download")}>
        Learners may download it
      </Check>
    </div>
  )
}
