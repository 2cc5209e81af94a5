"use client"

import type { SettingsOf } from "./settings"

export const Divider: SettingsOf<"divider"> = () => (
  <p className="text-body">A fine line across the page. There is nothing to set.</p>
)
