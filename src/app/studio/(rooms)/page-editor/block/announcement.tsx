"use client"

import { TextField } from "@/ui/field"
import { ChooseOffer } from "./choose-about"
import type { SettingsOf } from "./settings"

export const Announcement: SettingsOf<"announcement"> = ({ block, offers, onChange }) => (
  <div className="space-y-3">
    <TextField
      label="Text"
      value={block.says}
      maxLength={300}
      onChange={(e) => onChange({ says: e.target.value }, "says")}
    />
    <ChooseOffer
      label="As long as this can be had"
      none="As long as the page stands"
      value={block.offer}
      offers={offers}
      onChange={(offer) => onChange({ offer }, "offer")}
    />
  </div>
)
