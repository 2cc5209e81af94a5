"use client"

import { RichText } from "@/ui/rich-text"
import type { SettingsOf } from "./settings"

export const Text: SettingsOf<"text"> = ({ block, onChange }) => {
  return <RichText label="Text" value={block.html} onChange={(html) => onChange({ html }, "html")} />
}
