"use client"

import { ChooseMedia } from "./choose-media"
import type { EditorPicture } from "./settings"

/** Chooses a picture, or uploads one; the editor is handed it with its size, so that it is drawn at once. */
export function ChoosePicture({
  label = "Picture",
  upload,
  value,
  pictures,
  onPicture,
  onChange,
}: {
  label?: string
  upload?: string
  value: number | null
  pictures: readonly EditorPicture[]
  onPicture: (picture: EditorPicture) => void
  onChange: (media: number | null) => void
}) {
  return (
    <ChooseMedia
      label={label}
      {...(upload ? { upload } : {})}
      kind="picture"
      value={value}
      among={pictures}
      onUploaded={(done) => {
        const image = new Image()
        image.onload = () => onPicture({ ...done, width: image.naturalWidth, height: image.naturalHeight })
        image.src = done.url
      }}
      onChange={onChange}
    />
  )
}
