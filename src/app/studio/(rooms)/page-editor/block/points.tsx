"use client"

import { TextArea } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const Points: SettingsOf<"list"> = ({ block, onChange }) => {
  return (
    <TextArea
      label="Points, one per line"
      rows={8}
      value={block.items.join("\n")}
      onChange={(e) =>
        onChange(
          {
            items: e.target.value
              .split("\n")
              .slice(0, 40)
              .map((i) => i.slice(0, 300)),
          },
          "items",
        )
      }
    />
  )
}
