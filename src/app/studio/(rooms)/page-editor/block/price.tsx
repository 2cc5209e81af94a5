"use client"

import { ChooseOffer } from "./choose-about"
import type { SettingsOf } from "./settings"

export const Price: SettingsOf<"price"> = ({ block, offers, onChange }) => (
  <ChooseOffer
    label="Price of"
    value={block.offer}
    offers={offers}
    onChange={(offer) => onChange({ offer }, "offer")}
    hint="The sentence comes from the offer's terms; nothing else says a price."
    error={block.offer === null ? "No offer yet." : undefined}
  />
)
