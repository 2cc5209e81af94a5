"use client"

import type { SettingsOf } from "./settings"

export const Proof: SettingsOf<"proof"> = () => {
  return (
    <p className="text-body">
      Here a buyer reads what they bought, what they pay and when, and finds the button that opens it. It is made from
      their order.
    </p>
  )
}
