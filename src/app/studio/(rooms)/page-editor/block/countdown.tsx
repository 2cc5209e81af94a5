"use client"

import { Check } from "@/ui/check"
import { ChooseOffer } from "./choose-about"
import type { SettingsOf } from "./settings"

export const Countdown: SettingsOf<"countdown"> = ({ block, offers, onChange }) => (
  <div className="space-y-3">
    <ChooseOffer
      label="End of"
      value={block.offer}
      offers={offers}
      onChange={(offer) => onChange({ offer }, "offer")}
      hint="The offer's own end, by the server's clock. Without an end, and after it, nothing is shown."
    />
    <Check checked={block.pieces} onChange={(pieces) => onChange({ pieces }, "pieces")}>
      Say how many are left
    </Check>
  </div>
)
