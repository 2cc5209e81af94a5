"use client"

import { SelectField, TextField } from "@/ui/field"
import { ChooseMedia } from "./choose-media"
import { ChoosePicture } from "./choose-picture"
import type { SettingsOf } from "./settings"

export const Video: SettingsOf<"video"> = ({
  block,
  videos,
  pictures,
  files,
  onFile,
  onPicture,
  onVideo,
  onChange,
}) => {
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
        label="What it shows, for those who can't see it"
        value={block.says}
        maxLength={300}
        onChange={(e) => onChange({ says: e.target.value }, "says")}
      />
      <SelectField
        label="It plays"
        value={block.plays ?? "by-itself"}
        onChange={(e) => onChange({ plays: e.target.value as "asked" }, "plays")}
      >
        <option value="asked">when somebody presses on it</option>
        <option value="by-itself">by itself, over and over, without sound</option>
      </SelectField>
      <ChoosePicture
        label="Picture until it plays"
        value={block.poster ?? null}
        pictures={pictures}
        onPicture={onPicture}
        onChange={(poster) => onChange({ poster }, "poster")}
      />
      <ChooseMedia
        label="Captions"
        kind="file"
        none="None"
        hint="A WebVTT file."
        value={block.captions ?? null}
        among={files.filter((f) => f.name.endsWith(".vtt") || f.id === block.captions)}
        onUploaded={onFile}
        onChange={(captions) => onChange({ captions }, "captions")}
      />
    </div>
  )
}
