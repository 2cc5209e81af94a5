"use client"

import { TextArea, TextField } from "@/ui/field"
import { Items } from "./items"
import type { SettingsOf } from "./settings"

export const Numbered: SettingsOf<"numbered"> = ({ block, onChange }) => (
  <Items
    items={block.items}
    one="Step"
    most={12}
    fresh={() => ({ title: "", says: "" })}
    onChange={(items, run) => onChange({ items }, run)}
  >
    {(item, set) => (
      <>
        <TextField
          label="Title"
          value={item.title}
          maxLength={300}
          onChange={(e) => set({ title: e.target.value }, "title")}
        />
        <TextArea
          label="Text"
          rows={2}
          maxLength={2000}
          value={item.says}
          onChange={(e) => set({ says: e.target.value }, "says")}
        />
      </>
    )}
  </Items>
)
