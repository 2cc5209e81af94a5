"use client"

import { SelectField, TextField } from "@/ui/field"
import { ChoosePicture } from "./choose-picture"
import { Items } from "./items"
import type { SettingsOf } from "./settings"

export const Gallery: SettingsOf<"gallery"> = ({ block, pictures, onPicture, onChange }) => (
  <div className="space-y-3">
    <SelectField
      label="It shows"
      value={block.as}
      onChange={(e) => onChange({ as: e.target.value as "pictures" }, "as")}
    >
      <option value="pictures">pictures</option>
      <option value="logos">logos, or names</option>
    </SelectField>
    <Items
      items={block.items}
      one={block.as === "logos" ? "Logo" : "Picture"}
      most={24}
      fresh={() => ({ media: null, says: "" })}
      onChange={(items, run) => onChange({ items }, run)}
    >
      {(item, set) => (
        <>
          <ChoosePicture
            value={item.media}
            pictures={pictures}
            onPicture={onPicture}
            onChange={(media) => set({ media }, "media")}
          />
          <TextField
            label={block.as === "logos" ? "Name" : "What it shows, for those who can't see it"}
            value={item.says}
            maxLength={300}
            onChange={(e) => set({ says: e.target.value }, "says")}
          />
        </>
      )}
    </Items>
  </div>
)
