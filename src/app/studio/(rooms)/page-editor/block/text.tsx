"use client"

import { isOurLink } from "@/core/page/linked"
import { RichText } from "@/ui/rich-text"
import type { SettingsOf } from "./settings"

export const Text: SettingsOf<"text"> = ({ block, words, pictures, onChange }) => (
  <RichText
    ours={isOurLink}
    label="Text"
    value={block.html}
    {...(words && { ...words, pictures })}
    onChange={(html) => onChange({ html }, "html")}
  />
)
