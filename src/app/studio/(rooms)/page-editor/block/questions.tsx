"use client"

import { TextArea, TextField } from "@/ui/field"
import { Items } from "./items"
import type { SettingsOf } from "./settings"

export const Questions: SettingsOf<"questions"> = ({ block, onChange }) => (
  <div className="space-y-3">
    <TextField
      label="Heading"
      value={block.title}
      maxLength={300}
      onChange={(e) => onChange({ title: e.target.value }, "title")}
    />
    <Items
      items={block.items}
      one="Question"
      most={40}
      fresh={() => ({ asks: "", says: "" })}
      onChange={(items, run) => onChange({ items }, run)}
    >
      {(item, set) => (
        <>
          <TextField
            label="Question"
            value={item.asks}
            maxLength={300}
            onChange={(e) => set({ asks: e.target.value }, "asks")}
          />
          <TextArea
            label="Answer"
            rows={4}
            maxLength={2000}
            value={item.says}
            hint={item.says.trim() ? undefined : "Until it is answered, visitors don’t see it."}
            onChange={(e) => set({ says: e.target.value }, "says")}
          />
        </>
      )}
    </Items>
  </div>
)
