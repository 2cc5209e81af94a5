"use client"

import { Check } from "@/ui/check"
import { TextField } from "@/ui/field"
import { ChoosePicture } from "./choose-picture"
import type { EditorPicture } from "./settings"

type Described = { readonly media: number | null; readonly alt: string; readonly decorative?: boolean | undefined }

/** A picture, and what it shows for whoever can't see it, or that it says nothing by itself. It begins with what Media says of it. */
export function DescribedPicture({
  block,
  pictures,
  onPicture,
  onChange,
}: {
  block: Described
  pictures: readonly EditorPicture[]
  onPicture: (picture: EditorPicture) => void
  onChange: (change: Partial<{ media: number | null; alt: string; decorative: boolean }>, run: string) => void
}) {
  return (
    <>
      <ChoosePicture
        value={block.media}
        pictures={pictures}
        onPicture={onPicture}
        onChange={(media) => {
          const said = pictures.find((p) => p.id === media)?.alt ?? ""
          onChange(block.alt.trim() || !said ? { media } : { media, alt: said }, "media")
        }}
      />
      {block.decorative ? null : (
        <TextField
          label="What it shows, for those who can't see it"
          value={block.alt}
          maxLength={300}
          onChange={(e) => onChange({ alt: e.target.value }, "alt")}
        />
      )}
      <Check checked={block.decorative === true} onChange={(decorative) => onChange({ decorative }, "decorative")}>
        It only decorates
      </Check>
    </>
  )
}
