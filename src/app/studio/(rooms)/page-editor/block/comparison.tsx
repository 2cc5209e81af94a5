"use client"

import { ChooseOffer } from "./choose-about"
import type { SettingsOf } from "./settings"

export const Comparison: SettingsOf<"comparison"> = ({ block, offers, onChange }) => (
  <ChooseOffer
    label="Ways to pay for"
    value={block.offer}
    offers={offers}
    onChange={(offer) => onChange({ offer }, "offer")}
    hint="From the offer’s own terms. With one way alone there is nothing to compare, and nothing is shown."
  />
)
