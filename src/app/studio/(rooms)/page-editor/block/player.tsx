"use client"

import { useState } from "react"
import { type Chapter, chapterLines, readChapters } from "@/core/course/chapters"
import { Check } from "@/ui/check"
import { Field, TextField } from "@/ui/field"
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
      <Chapters value={block.chapters} onChange={(chapters) => onChange({ chapters }, "chapters")} />
      <Check checked={block.download} onChange={(download) => onChange({ download }, "download")}>
        It may be taken away
      </Check>
    </div>
  )
}

/** Typed as lines; what isn't a chapter is named, and kept while it is being typed. */
function Chapters({ value, onChange }: { value: readonly Chapter[]; onChange: (chapters: Chapter[]) => void }) {
  const [typed, setTyped] = useState<string | null>(null)
  const text = typed ?? chapterLines(value)
  const { refused } = readChapters(text)
  return (
    <Field
      label="Chapters"
      hint="One a line, with its time: 1:30 The salt"
      error={refused.length ? `This isn’t a time and a title: “${refused[0]}”` : undefined}
    >
      {(p) => (
        <textarea
          {...p}
          rows={3}
          value={text}
          onChange={(e) => {
            setTyped(e.target.value)
            onChange(readChapters(e.target.value).chapters)
          }}
          onBlur={() => setTyped(refused.length ? text : null)}
        />
      )}
    </Field>
  )
}
