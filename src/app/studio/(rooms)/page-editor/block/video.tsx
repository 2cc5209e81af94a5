"use client"

import { useRef, useState } from "react"
import { Button } from "@/ui/button"
import { SelectField, TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { sendUp } from "../../upload"
import { ChaptersField } from "../chapters-field"
import { ChooseMedia } from "./choose-media"
import { ChoosePicture } from "./choose-picture"
import type { EditorPicture, EditorVideo, SettingsOf } from "./settings"

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
      <Frame
        film={videos.find((x) => x.id === block.media)}
        onTaken={(picture) => {
          onPicture(picture)
          onChange({ poster: picture.id }, "poster")
        }}
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
      <ChaptersField value={block.chapters ?? []} onChange={(chapters) => onChange({ chapters }, "chapters")} />
    </div>
  )
}

/** A picture of the film itself: it is stopped where it looks best, and what stands there is kept. */
function Frame({ film, onTaken }: { film: EditorVideo | undefined; onTaken: (picture: EditorPicture) => void }) {
  const player = useRef<HTMLVideoElement>(null)
  const [says, setSays] = useState("")
  const [busy, setBusy] = useState(false)
  if (!film) return null
  const take = async () => {
    const shown = player.current
    if (!shown?.videoWidth) return setSays("It has not begun yet. Press play, and stop where it looks best.")
    setBusy(true)
    setSays("")
    const [width, height] = [shown.videoWidth, shown.videoHeight]
    const canvas = Object.assign(document.createElement("canvas"), { width, height })
    canvas.getContext("2d")?.drawImage(shown, 0, 0)
    try {
      const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/png"))
      if (!blob) throw new Error("Your browser can’t take a picture of this film.")
      const file = new File([blob], `${film.name.replace(/\.\w+$/, "")}.png`, { type: "image/png" })
      onTaken({ ...(await sendUp("picture", file, () => {})), width, height })
    } catch (error) {
      setSays((error as Error).message)
    }
    setBusy(false)
  }
  return (
    <details>
      <summary className="text-label font-semibold">Take the picture from the film</summary>
      <video
        ref={player}
        src={film.url}
        controls
        muted
        playsInline
        preload="metadata"
        className="my-2 w-full rounded-md"
      />
      <Button disabled={busy} onClick={take}>
        Keep this picture
      </Button>
      <Refusal>{says}</Refusal>
    </details>
  )
}
