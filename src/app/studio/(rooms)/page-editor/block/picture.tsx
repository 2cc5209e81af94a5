"use client"

import { DescribedPicture } from "./described-picture"
import type { SettingsOf } from "./settings"

export const Picture: SettingsOf<"picture"> = ({ block, pictures, onPicture, onChange }) => (
  <div className="space-y-3">
    <DescribedPicture block={block} pictures={pictures} onPicture={onPicture} onChange={onChange} />
  </div>
)
