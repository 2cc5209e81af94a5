"use client"

import { ChooseOffer } from "./choose-about"
import type { SettingsOf } from "./settings"

export const Guarantee: SettingsOf<"guarantee"> = ({ block, offers, onChange }) => (
  <ChooseOffer
    label="Refund rule of"
    value={block.offer}
    offers={offers}
    onChange={(offer) => onChange({ offer }, "offer")}
    hint="The days are set in the offer. Without any, visitors see nothing here."
  />
)
