"use client"

import { isOurLink } from "@/core/page/linked"
import { SelectField } from "@/ui/field"
import { RichText } from "@/ui/rich-text"
import { DescribedPicture } from "./described-picture"
import type { SettingsOf } from "./settings"

export const Aside: SettingsOf<"aside"> = ({ block, pictures, onPicture, onChange }) => (
  <div className="space-y-3">
    <DescribedPicture block={block} pictures={pictures} onPicture={onPicture} onChange={onChange} />
    <SelectField
      label="The picture stands"
      value={block.side}
      onChange={(e) => onChange({ side: e.target.value as "start" }, "side")}
    >
      <option value="start">before the text</option>
      <option value="end">after the text</option>
    </SelectField>
    <RichText ours={isOurLink} label="Text" value={block.html} onChange={(html) => onChange({ html }, "html")} />
  </div>
)
