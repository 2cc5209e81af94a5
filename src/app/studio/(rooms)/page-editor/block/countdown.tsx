"use client"

import { Check } from "@/ui/check"
import { SelectField } from "@/ui/field"
import { ChooseOffer } from "./choose-about"
import type { SettingsOf } from "./settings"

export const Countdown: SettingsOf<"countdown"> = ({ block, offers, onChange }) => (
  <div className="space-y-3">
    <SelectField
      label="Counts down to"
      value={block.end ?? ""}
      onChange={(e) => onChange({ end: e.target.value === "price" ? "price" : undefined }, "end")}
    >
      <option value="">the offer’s end</option>
      <option value="price">the end of a visitor’s lower price</option>
    </SelectField>
    <ChooseOffer
      label="Offer"
      value={block.offer}
      offers={offers}
      onChange={(offer) => onChange({ offer }, "offer")}
      hint={
        block.end === "price"
          ? "Until when the coupon of a visitor’s link, or their seat at a webinar, makes it cheaper. Others see nothing."
          : "The offer's own end, by the server's clock. Without an end, and after it, nothing is shown."
      }
    />
    {block.end === "price" ? null : (
      <Check checked={block.pieces} onChange={(pieces) => onChange({ pieces }, "pieces")}>
        Say how many are left
      </Check>
    )}
  </div>
)
