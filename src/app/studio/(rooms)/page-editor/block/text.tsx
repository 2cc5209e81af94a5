"use client"

import { isOurLink } from "@/core/page/linked"
import { RichText } from "@/ui/rich-text"
import type { SettingsOf } from "./settings"

export const Text: SettingsOf<"text"> = ({ block, onChange }) => {
  return <RichText ours={isOurLink} label="Text" value={block.html} onChange={(html) => onChange({ html }, "html")} />
}
